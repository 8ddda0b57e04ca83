# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Who is told of which alerts, how, and when.
    class AlertRoute < Record
      include Authored
      include SealedSettings

      self.table_name = "alert_routes"

      SECRET = "secret"

      scope :on, -> { present.where(enabled: true).order(:id) }

      has_many :deliveries, class_name: "Northdrift::Store::AlertDelivery", foreign_key: :route_id,
                            inverse_of: :route, dependent: :delete_all

      # @return [Sending::Route]
      # @raise [Rules::Mistake]
      def route = Northdrift::Sending::Route.new(wanted)

      # @return [Hash{String=>Object}] as it was given
      def wanted = Oj.load(definition, mode: :strict)

      # @param values [Hash{String=>Object}]
      # @raise [Rules::Mistake]
      def wanted=(values)
        Northdrift::Sending::Route.new(values)
        self.definition = Oj.dump(values, mode: :strict)
      end

      # @param name [String] of a person or a team
      # @return [Array<Person>, nil] those who may log in; nil where nobody is called so
      def self.people_of(name)
        person = Person.named(name)
        return Person.enabled.where(id: person.id).to_a if person

        team = Team.named(name)
        team && team.people.where(disabled_us: nil).to_a
      end

      # @return [Array<String>] whom it tells: one message each; "" where it goes to one place. Who has no address is
      #   there by name.
      def recipients = given.fetch("to", [""]).flat_map { |one| addresses(one) }.uniq

      def addresses(one)
        return [one] if one.empty? || one.include?("@")

        (self.class.people_of(one) || []).filter_map(&:mail).presence || [one]
      end
      private :addresses

      # @return [String] tells whether anything changed that it runs by
      def state = [id, kind, settings, definition, enabled, deleted_us].join("\0")
    end
  end
end
