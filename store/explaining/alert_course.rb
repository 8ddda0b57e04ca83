# frozen_string_literal: true

module Northdrift
  module Store
    # How what a rule counts or measures went before an alert, while it lasted and behind it, beside the level that it
    # went beyond.
    class AlertCourse
      STEPS = 80
      # Steps of a rule are drawn one by one, up to so many.
      MOST_STEPS = 600
      # With more lines there is no course.
      MOST_LINES = 50_000
      KINDS = %w[count fewer measure].freeze

      # @return [Integer] the first moment, and how long a step is
      attr_reader :from_us, :step_us
      # @return [Watch::Rule] as it stood
      attr_reader :rule

      # @param alert [Alert]
      def initialize(alert)
        @alert = alert
        @rule = alert.rule
        around_us = [2 * @rule.within_us, (alert.last_us - alert.from_us) / 4].max
        @from_us = alert.from_us - around_us
        @to_us = alert.last_us + around_us
        @step_us = step_of(@to_us - @from_us)
        @from_us = @from_us / @step_us * @step_us if measure?
      end

      # @return [Boolean] whether there is something to draw: that one line came is drawn by none
      def any? = KINDS.include?(@rule.kind) && !(@rule.kind == "count" && level == 1) && asked.total < MOST_LINES

      # @return [Array<Numeric, nil>] the value of each step: of a count, the most lines that there were within so long
      def values = @values ||= measure? ? measures : counts

      # @return [Numeric] that it goes beyond
      def level = measure? ? @rule.level.warning : @rule.least

      # @return [Numeric, nil]
      def critical = measure? ? @rule.level.critical : nil

      # @return [String, nil] of the values
      def unit = measure? ? @rule.level.unit : nil

      # @return [String] what the values are
      def says
        return "#{@rule.level.measure} of each #{Northdrift::Watch::Rule.time(@step_us)}" if measure?

        "lines within #{Northdrift::Watch::Rule.time(@rule.within_us)}"
      end

      private

      def measure? = @rule.kind == "measure"

      # Of a measure whole steps of the rule, as it is watched.
      def step_of(long_us)
        return @rule.within_us * [long_us.fdiv(@rule.within_us * MOST_STEPS).ceil, 1].max if measure?

        [[@rule.within_us, long_us / STEPS].min, 1].max
      end

      def steps = (@to_us - @from_us).fdiv(@step_us).ceil

      # @return [Array<Array(Integer, Object)>] time, and what is measured of it; also of what lies so little before the
      #   first step that it counts there
      def lines
        @lines ||= asked.to_enum(:each, limit: MOST_LINES)
          .map { |event| [event.time_us, @rule.value(event.fields.merge(event.kind.constants))] }.sort_by(&:first)
      end

      def asked
        from_us = @from_us - (measure? ? 0 : @rule.within_us)
        @asked ||= Question.new(find: @alert.find, from_us: from_us, to_us: @to_us, checked: false)
      end

      def measures
        way = @rule.level.way
        by_step = lines.group_by { |time_us, _| (time_us - @from_us) / @step_us }
        Array.new(steps) do |step|
          values = by_step.fetch(step, []).filter_map(&:last)
          way.result.call(values.reduce(way.start.call) { |state, value| way.add.call(state, value) }) if values.any?
        end
      end

      # Of what should not be fewer, how many there are at the end of each step.
      def counts
        times = lines.map(&:first)
        Array.new(steps) do |step|
          ends = @from_us + ((step + 1) * @step_us)
          within = @rule.kind == "count" ? times_of_step(times, ends) : []
          [ends, *within].map { |at_us| count(times, at_us) }.max
        end
      end

      def times_of_step(times, ends) = times[below(times, ends - @step_us)...below(times, ends)]

      # @return [Integer] lines in (at - within, at]
      def count(times, at_us) = below(times, at_us) - below(times, at_us - @rule.within_us)

      # @return [Integer] lines up to then
      def below(times, at_us) = times.bsearch_index { |time| time > at_us } || times.size
    end
  end
end
