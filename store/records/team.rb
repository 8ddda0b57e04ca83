# frozen_string_literal: true

module Northdrift
  module Store
    # A group of people. It owns what its members share, and may limit what they see.
    class Team < Record
      include Authored

      self.table_name = "teams"

      # What belongs to a team.
      OWNED = { Search => "saved questions", Board => "boards" }.freeze

      Unfit = Class.new(Error)

      has_many :memberships, dependent: :delete_all
      has_many :people, -> { order(:key) }, through: :memberships

      class << self
        # @return [Team, nil]
        def named(name) = find_by(key: Person.key(name))

        # @param name [String]
        # @param sight [String] what its members see, see {Sight}; it says nothing about that where it is empty
        # @param people [Array<Person>]
        # @return [Team]
        # @raise [Unfit, Sight::Unfit]
        def add(name, sight: "", people: [])
          transaction { new(created_us: Clock.now_us).set(name: name, sight: sight, people: people) }
        end
      end

      # Changes what is given, and what its members see by that.
      # @return [self]
      # @raise [Unfit, Sight::Unfit]
      def set(name: nil, sight: nil, people: nil)
        transaction do
          take_name(name) if name
          self.sight = Sight.check(sight) if sight
          self.changed_us = Clock.now_us
          save!
          before = self.people.to_a
          take_people(before, people) if people
          (before | self.people.reload.to_a).each(&:settle_sight)
        end
        self
      end

      # @raise [Unfit] while something belongs to it: that would become everybody's, or nobody's
      def remove
        owned = OWNED.filter_map do |model, called|
          count = model.kept.where(team_id: id).count
          "#{count} #{called}" if count.positive?
        end
        raise Unfit, "#{name} owns #{owned.join(' and ')}; delete them first" if owned.any?

        transaction do
          members = people.to_a
          destroy!
          members.each(&:settle_sight)
        end
      end

      private

      def take_name(name)
        name = Person.fit(name, "a team")
        other = self.class.named(name)
        raise Unfit, "there is a team #{other.name} already" if other && other.id != id

        assign_attributes(name: name, key: Person.key(name))
      end

      def take_people(before, people)
        self.people = people
        Changes.note(
          "members of #{name}", id, *[before, people].map { |some| { "people" => some.map(&:name).sort.join(", ") } }
        )
      end
    end
  end
end
