# frozen_string_literal: true

module Northdrift
  module Boards
    # Who may look at a board, and who may change it, beside who made it and the administrators.
    class Access
      EVERYONE = "everyone"
      # Those of a role or a higher one, of a team by its id, or a person by name.
      GRANT = /\A(?:everyone|role:(?:#{People::Role::NAMES.join('|')})|team:\d{1,18}|person:\S.{0,199})\z/
      MOST = 100

      # Who asks.
      # @!attribute name [String, nil]
      # @!attribute role [String, nil]
      # @!attribute teams [Array<Integer>] ids
      Asker = Struct.new(:name, :role, :teams)

      # @return [Array<String>]
      attr_reader :readers, :editors

      # @param given [Hash{String=>Object}] "read" and "edit": lists of {GRANT}
      # @return [Access]
      # @raise [Mistake]
      def self.of(given, owner:)
        unless given.is_a?(Hash) && (given.keys - %w[read edit]).empty?
          raise Mistake.new("access", "access says who may read and who may edit")
        end

        lists = %w[read edit].map { |name| grants(name, given.fetch(name, [EVERYONE])) }
        new(readers: lists[0], editors: lists[1], owner: owner)
      end

      def self.grants(name, list)
        return list.uniq if list.is_a?(Array) && list.size <= MOST &&
                            list.all? { |one| one.is_a?(String) && one.match?(GRANT) }

        raise Mistake.new("access", "#{name} is a list of everyone, role:NAME, team:NUMBER and person:NAME")
      end
      private_class_method :grants

      # @param readers [Array<String>]
      # @param editors [Array<String>] who may read, too
      # @param owner [String, nil] name of who made it
      def initialize(readers:, editors:, owner:)
        @readers = readers
        @editors = editors
        @owner = owner
      end

      # @param asker [Asker]
      # @return [Boolean] whether they may say who may
      def own?(asker) = asker.role == People::Role::HIGHEST || (!@owner.nil? && @owner == asker.name)

      # @param asker [Asker]
      # @return [Boolean]
      def edit?(asker) = own?(asker) || granted?(editors, asker)

      # @param asker [Asker]
      # @return [Boolean]
      def read?(asker) = edit?(asker) || granted?(readers, asker)

      # @return [Hash{String=>Array<String>}]
      def to_h = { "read" => readers, "edit" => editors }

      private

      def granted?(grants, asker)
        grants.any? do |grant|
          whom, name = grant.split(":", 2)
          case whom
          when EVERYONE then true
          when "role" then !asker.role.nil? && People::Role.enough?(asker.role, name)
          when "team" then asker.teams.include?(name.to_i)
          else name == asker.name
          end
        end
      end
    end
  end
end
