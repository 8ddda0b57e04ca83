# frozen_string_literal: true

require "digest"
require "oj"

module Northdrift
  module Store
    # All kinds, kept in memory. Kinds are only ever added, or given another machine's name when something is said of
    # the machines. Threads share them: what there is at a moment is never changed, a later one takes its place as a
    # whole.
    class Kinds
      include Enumerable

      COLUMNS = "id, machine, service, reader, layout, traits"

      # All kinds at a moment.
      class Snapshot
        # @return [Hash{Integer=>Kind}]
        attr_reader :by_id
        # @return [Fleet, nil] what was said of the machines
        attr_reader :fleet

        def initialize(by_id, fleet)
          @by_id = by_id.freeze
          @fleet = fleet
          @newest = by_id.keys.last || 0
        end

        # @return [Hash{String=>Array<Integer>}] ids of the kinds that have a name, as their machine or as their service
        def names
          @names ||= @by_id.each_value.with_object({}) do |kind, names|
            [kind.machine, kind.service].compact.uniq.each { |name| (names[name] ||= []) << kind.id }
          end.freeze
        end

        # @return [Set<String>] names of all fields that any line has
        def field_names = @field_names ||= @by_id.each_value.flat_map(&:fields).to_set.freeze

        # @return [Snapshot] with what was added or said since; itself when that is nothing
        def next
          fleet = Fleet.current
          same = fleet.equal?(@fleet)
          rows = Database.rows("SELECT #{COLUMNS} FROM kinds WHERE id > ? ORDER BY id", [same ? @newest : 0])
          return self if same && rows.empty?

          known = same ? @by_id.dup : {}
          rows.each do |id, machine, service, reader, layout, traits|
            layout, traits = [layout, traits].map { |text| Oj.load(text, mode: :strict) }
            known[id] = Kind.new(id, machine, service, reader, layout, traits).with(fleet)
          end
          Snapshot.new(known, fleet)
        end
      end

      # @return [Kinds] those of the open database
      def self.current = Sight.kept(:kinds, @current ||= new) { new }.refresh

      # To be said when another database is opened.
      def self.forget = @current = nil

      def initialize
        @now = Snapshot.new({}, nil)
      end

      # Reads the kinds that were added since the last look.
      # @return [self]
      def refresh
        @now = @now.next
        self
      end

      # @param id [Integer]
      # @return [Kind]
      def [](id) = @now.by_id[id] || (@now = @now.next).by_id.fetch(id)

      def each(&) = @now.by_id.each_value(&)

      # @return [Integer]
      def size = @now.by_id.size

      # @return [Hash{String=>Array<Integer>}] see {Snapshot#names}
      def names = @now.names

      # @return [Set<String>] see {Snapshot#field_names}
      def field_names = @now.field_names

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
