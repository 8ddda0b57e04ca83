# frozen_string_literal: true

require "concurrent/map"

module Northdrift
  module Store
    # What a {Sight} reaches at a moment: the kinds, the sources and the machines that somebody may see.
    class SightReach
      # Records whose columns have to be known before their tables are hidden.
      RECORDS = [Source, Machine, Dependency].freeze

      # @!attribute kinds [Integer] newest
      # @!attribute fleet [String, nil] version of what was said of the machines
      # @!attribute appearances [String, nil] version of what comes together
      State = Struct.new(:path, :kinds, :fleet, :appearances)

      # @return [State] what a reach is made from; where it is another one by now, so is the reach
      def self.state
        State.new(
          Database.path,
          *Database.rows(
            "SELECT (SELECT max(id) FROM main.kinds), (SELECT value FROM main.settings WHERE name = ?), " \
            "(SELECT value FROM main.settings WHERE name = ?)", [Fleet::VERSION, Appearances::VERSION]
          ).first
        )
      end

      # @return [String] find text
      attr_reader :find
      # @return [Object] the same as a {Find::Tree}
      attr_reader :tree
      # @return [State]
      attr_reader :state
      # @return [Concurrent::Map] what was made of it
      attr_reader :kept
      # @return [Array<Integer>] kinds all of whose lines may be seen
      attr_reader :whole
      # @return [Array<Integer>] kinds that are seen whatever source they come in
      attr_reader :sure
      # @return [Array<Array(Integer, Integer)>] of the other kinds that templates were noted with, the sources that may
      #   be seen
      attr_reader :together
      # @return [Array<Array(Integer, Integer)>] of the other kinds, the sources that may be seen
      attr_reader :pairs
      # @return [Array<String>] names, those of machines that never wrote a line too
      attr_reader :machines
      # @return [Array<String>] those of them of which nothing is hidden
      attr_reader :whole_machines

      # To be made where everything is seen.
      # @param find [String]
      # @param state [State]
      def initialize(find, state)
        @find = find
        @state = state
        @tree = Find::Parser.parse(find)
        @kept = Concurrent::Map.new
        @truth = Find::Possible.new(@tree, Sight::FIELDS - ["source"])
        RECORDS.each(&:columns_hash)
        kinds = Kinds.current
        @sure, rest = judge(kinds)
        @whole = @sure.dup
        @pairs = []
        @together = []
        @of_sources = rest.any?
        look_at_sources(kinds, rest) if rest.any?
        own = (@whole | @pairs.map(&:first)).filter_map { |id| kinds[id].machine }
        @machines = own | said
        @whole_machines = @machines - kinds.reject { |kind| @whole.include?(kind.id) }.map(&:machine)
      end

      # @param state [State] by now
      # @return [Boolean] whether it is still what it was made from, as far as that matters
      def holds?(state) = @of_sources ? @state == state : @state.to_a.take(3) == state.to_a.take(3)

      # @return [Boolean] whether others see lines of a source that are not seen here
      def part?(source_id)
        Database.rows("SELECT kind_id FROM main.kind_sources WHERE source_id = ?", [source_id])
          .any? { |kind, _| !@whole.include?(kind) && !@pairs.include?([kind, source_id]) }
      end

      # @return [Find::Matcher]
      def matcher = @matcher ||= Find::Matcher.new(@tree)

      # @return [Condition]
      def condition = @condition ||= Condition.new(kinds: Set.new(@whole) | @pairs.map(&:first))

      private

      # @return [Array(Array<Integer>, Array<Integer>)] kinds that are seen, and those of which their source decides
      def judge(kinds)
        by = kinds.reject { |kind| of_audit?(kind) }.group_by { |kind| @truth.truth(values(kind)) }
        [by.fetch(true, []).map(&:id), by.fetch(nil, []).map(&:id)]
      end

      # Entries of the audit trail tell of everybody.
      def of_audit?(kind) = kind.machine.nil? && kind.service == AuditTrail::SERVICE

      # A value that differs from line to line is none here.
      def values(kind) = kind.constants.slice(*Sight::FIELDS)

      # Of the kinds whose source decides, those that are only in sources that are seen are seen as a whole.
      def look_at_sources(kinds, rest)
        names = Source.pluck(:id, :name).to_h
        seen = Hash.new { |known, pair| known[pair] = seen?(kinds[pair[0]], names[pair[1]]) }
        appearing("kind_sources", rest).group_by(&:first).each do |kind, pairs|
          own = pairs.select { |pair| seen[pair] }
          own == pairs ? @whole << kind : @pairs.concat(own)
        end
        @together = appearing("appearances", rest).select { |pair| seen[pair] }
      end

      # @return [Array<Array(Integer, Integer)>] kinds and the sources that they come in
      def appearing(table, rest)
        Database.rows(
          "SELECT DISTINCT kind_id, source_id FROM #{table} WHERE kind_id IN (SELECT value FROM json_each(?))",
          [Oj.dump(rest, mode: :strict)]
        )
      end

      def seen?(kind, source)
        matcher.match?(subject(values(kind).merge("source" => source)))
      end

      # Machines of which no line is there are seen where what people say of them is enough.
      def said
        Fleet.current.roster.map(&:name).select do |name|
          @truth.truth(Fleet.current.fields(name).merge("host.name" => name))
        end
      end

      def subject(values)
        Find::Matcher::Subject.new(Severity::UNSET, "", nil, nil, "", -> { "" }, -> { values })
      end
    end
  end
end
