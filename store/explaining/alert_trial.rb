# frozen_string_literal: true

module Northdrift
  module Store
    # What an alert rule would have raised of the lines that are stored. The same conditions try and watch.
    class AlertTrial
      # More lines are not looked at: such a rule is about everything.
      MOST_LINES = 200_000
      # Of which it is told how many alerts there would have been.
      LEVELS = [1, 2, 3, 5, 7, 10, 15, 20, 30, 50, 70, 100, 200, 500, 1000].freeze

      # @!attribute key [Array<String>]
      # @!attribute span [Watch::Span]
      Found = Struct.new(:key, :span)

      # @return [Watch::Rule]
      attr_reader :rule
      # @return [Integer]
      attr_reader :from_us, :to_us

      # @param rule [Watch::Rule]
      # @param from_us [Integer]
      # @param to_us [Integer]
      # @param without [Set<Integer>] ids of lines that are left out
      def initialize(rule, from_us, to_us, without: Set.new)
        @rule = rule
        @from_us = from_us
        @to_us = to_us
        @without = without
      end

      # @return [Array<Found>] in order of when they are raised
      def found = of_conditions { @rule.condition }

      # @return [Hash{Integer=>Integer}] by how often it takes: how many alerts there are then, up to where there are
      #   none
      def curve
        return {} unless @rule.kind == "count"

        [*LEVELS, @rule.least].uniq.sort.each_with_object({}) do |least, curve|
          # Above a level that is never reached there is nothing to choose.
          break curve if curve.any? && curve.values.last.zero? && least > @rule.least

          curve[least] = of_conditions { Northdrift::Watch::Count.new(least, @rule.within_us) }.size
        end
      end

      # @return [Boolean] whether there are more lines than were looked at
      def cut? = lines.size >= MOST_LINES

      # @return [Array<Array(Integer, Symbol, Array<String>)>] time, role and key of the lines that it is about, in
      #   their order
      def lines
        @lines ||= (@rule.finds.flat_map { |role, find| of(role, find) } + entries).sort_by(&:first)
      end

      private

      def of_conditions
        conditions = Hash.new { |all, key| all[key] = yield }
        moments = Hash.new { |all, key| all[key] = [] }
        lines.each { |time_us, role, key| moments[key].concat(conditions[key].add(time_us, role)) }
        conditions.each { |key, condition| moments[key].concat(condition.advance(@to_us)) }
        spans = moments.flat_map do |key, some|
          Northdrift::Watch::Span.of(some, @rule.quiet_us).map { |span| Found.new(key, span) }
        end
        spans.sort_by { |one| one.span.raised_us }
      end

      def entries
        return [] unless @rule.kinds

        Happenings.of(kinds: @rule.kinds, from_us: @from_us, to_us: @to_us).filter_map do |one|
          next if @without.include?(one.id) || !one.of_line?

          key = @rule.key(one.all_fields)
          [one.time_us, :entries, key] if key
        end
      end

      def of(role, find)
        # A field that no line has yet is no mistake: it is waited for.
        asked = Question.new(find: find, from_us: @from_us, to_us: @to_us, checked: false)
        asked.to_enum(:each, limit: MOST_LINES).filter_map do |event|
          next if @without.include?(event.id)

          key = @rule.key(event.fields.merge(event.kind.constants))
          [event.time_us, role, key] if key
        end
      end
    end
  end
end
