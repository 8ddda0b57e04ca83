# frozen_string_literal: true

require "digest"
require "oj"

module Northdrift
  module Store
    # All kinds, kept in memory. Kinds are only ever added.
    class Kinds
      include Enumerable

      COLUMNS = "id, machine, service, reader, layout, traits"

      # @return [Kinds] those of the open database
      def self.current = (@current ||= new).refresh

      # To be said when another database is opened.
      def self.forget = @current = nil

      def initialize
        @by_id = {}
        @fleet = nil
        @field_names = nil
        @names = nil
      end

      # Reads the kinds that were added since the last look.
      # @return [self]
      def refresh
        fleet = Fleet.current
        added = Database.rows("SELECT #{COLUMNS} FROM kinds WHERE id > ? ORDER BY id", [@by_id.keys.last || 0])
        return self if added.empty? && fleet.equal?(@fleet)

        added.each do |id, machine, service, reader, layout, traits|
          @by_id[id] = Kind.new(
            id, machine, service, reader, Oj.load(layout, mode: :strict), Oj.load(traits, mode: :strict)
          )
        end
        @fleet = fleet
        each { |kind| kind.fleet = fleet.fields(kind.machine) }
        @field_names = @names = nil
        self
      end

      # @param id [Integer]
      # @return [Kind]
      def [](id) = @by_id[id] || refresh.then { @by_id.fetch(id) }

      def each(&) = @by_id.each_value(&)

      # @return [Integer]
      def size = @by_id.size

      # @return [Hash{String=>Array<Integer>}] ids of the kinds that have a name, as their machine or as their service
      def names
        @names ||= each_with_object({}) do |kind, names|
          [kind.machine, kind.service].compact.uniq.each { |name| (names[name] ||= []) << kind.id }
        end
      end

      # @return [Set<String>] names of all fields that any line has
      def field_names = @field_names ||= flat_map(&:fields).to_set

      # @param definition [Array] machine, service, reader, layout, traits
      # @return [Integer] id of the kind, which is added when it is new; called within a write transaction
      def self.intern(machine, service, reader, layout, traits)
        layout = Oj.dump(layout, mode: :strict)
        traits = Oj.dump(traits, mode: :strict)
        key = Digest::SHA256.hexdigest([machine, service, reader, layout, traits].join("\0"))[0, 32]
        Database.value("SELECT id FROM kinds WHERE key = ?", [key]) ||
          Database.value(
            "INSERT INTO kinds (machine, service, reader, layout, traits, key) VALUES (?, ?, ?, ?, ?, ?) RETURNING id",
            [machine, service, reader.to_s, layout, traits, key]
          )
      end
    end
  end
end
