# frozen_string_literal: true

module Northdrift
  module Store
    # What an alert rule would have raised of the lines that are stored. The same conditions try and watch.
    class AlertTrial
      # More lines are not looked at: such a rule is about everything.
      MOST_LINES = 200_000
      # Of what lasts, so many are looked at.
      MOST_STEPS = 10_000
      # Of which it is told how many alerts there would have been.
      LEVELS = [1, 2, 3, 5, 7, 10, 15, 20, 30, 50, 70, 100, 200, 500, 1000].freeze

      # How long the steps are in which the lines of that time are counted: the first that makes no more than so many.
      RAIL_STEPS_US = [1, 6, 24].map { |hours| hours * 3_600_000_000 }.freeze
      MOST_RAIL_STEPS = 32

      # Kinds of entries that no line tells: they are made of there being fewer or more lines than usual.
      NOTICED = [Noticing::SILENCE, Noticing::VOLUME].freeze

      # @param rule [Watch::Rule]
      # @return [Boolean] whether it is about what no line tells: it is looked up
      def self.looked_up?(rule) = !rule.discovery.nil? || rule.kinds&.intersect?(NOTICED) || false

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
      def found
        @found ||= if @rule.level then of_conditions(measures) { @rule.level.of_measures(@rule.within_us) }
        else of_conditions(lines) { @rule.condition }
        end
      end

      # @return [Hash{Integer=>Integer}] by how often it takes: how many alerts there are then, up to where there are
      #   none
      def curve
        case @rule.kind
        when "count" then curve_of_counts
        when "measure" then levels.to_h do |level|
          [level, of_conditions(measures) { @rule.level.of_measures(@rule.within_us, level) }.size]
        end
        else {}
        end
      end

      # @return [Numeric, nil] that of the rule, among those of {curve}
      def level = @rule.kind == "count" ? @rule.least : @rule.level&.warning

      # Shares of all steps, at whose measures it is told how many alerts there would be.
      SHARES = [0.0, 0.25, 0.5, 0.75, 0.9, 0.95, 0.98, 0.99, 0.995, 0.999, 1.0].freeze

      # All lines of that time, those too that it is not about, from the first that there is.
      # @param zone [ActiveSupport::TimeZone]
      # @return [Array<Array(Integer, Integer)>] where each step begins, and how many lines it has
      def rail(zone)
        first_us = [@from_us, Span.all.first.to_i].max
        return [] if first_us >= @to_us

        step_us = RAIL_STEPS_US.find { |us| (@to_us - first_us) / us < MOST_RAIL_STEPS } || RAIL_STEPS_US.last
        starts = Windows::Steps.starts(first_us, @to_us, step_us, zone)
        [*starts, @to_us].each_cons(2).map do |from_us, to_us|
          [from_us, Question.new(from_us: [from_us, @from_us].max, to_us: to_us).total]
        end
      end

      # @return [Boolean] whether there are more lines than were looked at
      def cut? = lines.size >= MOST_LINES

      # @return [Array<Array(Integer, Symbol, Array<String>, Object)>] time, role, key and value of the lines that it is
      #   about, in their order
      def lines
        @lines ||= (@rule.finds.flat_map { |role, find| of(role, find) } + entries + discoveries).sort_by(&:first)
      end

      private

      # @param lines [Array] as {#lines} has them
      # @yieldreturn [Object] the condition of a key
      def of_conditions(lines)
        conditions = Hash.new { |all, key| all[key] = yield }
        moments = Hash.new { |all, key| all[key] = [] }
        lines.each { |time_us, role, key, value| moments[key].concat(conditions[key].add(time_us, role, value)) }
        conditions.each { |key, condition| moments[key].concat(condition.advance(@to_us)) }
        spans = moments.flat_map do |key, some|
          watched = [*some, *lasting(key)].select { |_, at_us| @rule.watched?(at_us) }
          Northdrift::Watch::Span.of(watched, @rule.quiet_us).map { |span| Found.new(key, span) }
        end
        spans.sort_by { |one| one.span.raised_us }
      end

      # What was noticed lasts: it holds until its end, as if it came again and again.
      def lasting(key)
        return [] unless (@rule.kinds && @rule.least == 1) || @rule.discovery

        step = [@rule.quiet_us / 2, 1].max
        lines.select { |_, _, own, until_us| own == key && until_us }.flat_map do |time_us, _, _, until_us|
          [*(time_us...until_us).step(step).first(MOST_STEPS), until_us].map { |at_us| [time_us, at_us] }
        end
      end

      def curve_of_counts
        curves = lines.group_by { |_, _, key, _| key }.each_value.map do |some|
          Northdrift::Watch::CountCurve.new(some.map(&:first), @rule.within_us, @rule.quiet_us) do |at_us|
            @rule.watched?(at_us)
          end
        end
        [*LEVELS, @rule.least].uniq.sort.each_with_object({}) do |least, curve|
          # Above a level that is never reached there is nothing to choose.
          break curve if curve.any? && curve.values.last.zero? && least > @rule.least

          curve[least] = curves.sum { |one| one.alerts(least) }
        end
      end

      # @return [Array<Array(Integer, Symbol, Array<String>, Numeric)>] as {#lines}: the steps of a measure, and theirs
      def measures
        way = @rule.level.way
        @measures ||= gathered(way).flat_map do |key, steps|
          steps.filter_map do |step, state|
            value = way.result.call(state)
            [step * @rule.within_us, :lines, key, value] if value
          end
        end.sort_by(&:first)
      end

      # @return [Hash{Array<String>=>Hash{Integer=>Object}}] what was gathered of the lines, by key and step
      def gathered(way)
        all = Hash.new { |known, key| known[key] = {} }
        lines.each do |time_us, _, key, value|
          next if value.nil?

          steps = all[key]
          step = time_us / @rule.within_us
          steps[step] = way.add.call(steps.fetch(step) { way.start.call }, value)
        end
        all
      end

      # @return [Array<Float>] measures that steps have had, and the level of the rule
      def levels
        reached = Northdrift::Measure::Quantiles.of(measures.map(&:last).tally.sort, SHARES).compact
        [*reached.map { |value| value.to_f.round(6) }, @rule.level.warning].uniq.sort
      end

      def entries
        return [] unless @rule.kinds

        Happenings.of(kinds: @rule.kinds, from_us: @from_us, to_us: @to_us).filter_map do |one|
          next if @without.include?(one.id) || !(one.of_line? || NOTICED.include?(one.kind))

          key = @rule.key(one.all_fields)
          [one.time_us, :entries, key, one.of_line? ? nil : one.fields["to_us"]&.to_i] if key
        end
      end

      def discoveries
        return [] unless @rule.discovery

        Discoveries.new(@rule).within(@from_us, @to_us).filter_map do |one|
          key = @rule.key(one.fields)
          [one.time_us, :entries, key, one.until_us] if key
        end
      end

      def of(role, find)
        # A field that no line has yet is no mistake: it is waited for.
        asked = Question.new(find: find, from_us: @from_us, to_us: @to_us, checked: false)
        found = []
        asked.values_of(@rule.fields).each do |id, time_us, values|
          next if @without.include?(id)

          key, value = judged(values)
          found << [time_us, role, key, value] if key
          break if found.size == MOST_LINES
        end
        found
      end

      # @param values [Hash{String=>Object}] frozen where many lines share them
      # @return [Array(Array<String>, Object)] key and value
      def judged(values)
        @judged ||= {}.compare_by_identity
        @judged.fetch(values) do
          told = [@rule.key(values), @rule.value(values)]
          @judged[values] = told if values.frozen?
          told
        end
      end
    end
  end
end
