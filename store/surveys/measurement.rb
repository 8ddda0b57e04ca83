# frozen_string_literal: true

module Northdrift
  module Store
    # What a {Measure::Clause} comes to over the lines of a question.
    class Measurement < Survey
      STEPS = 60

      # @!attribute by [Array<String, nil>] values of the fields that it is grouped by; nil where a line has none
      # @!attribute value [Numeric, nil] over the whole window
      # @!attribute steps [Hash{Integer=>Numeric}] by step of time, where there is one
      Group = Struct.new(:by, :value, :steps)

      # @return [Measure::Clause]
      attr_reader :clause
      # @return [Integer] lines looked at, and those of them that have a value
      attr_reader :total, :measured
      # @return [Integer, nil] where the first step starts, and the size of a step
      attr_reader :start_us, :step_us

      # @param clause [Measure::Clause]
      # @param utc_offset [Integer] seconds, for where days begin
      # @param beside [Measurement, nil] whose steps it takes: its window is laid over that one's
      def initialize(question, clause:, utc_offset: 0, beside: nil)
        super(question)
        @clause = clause
        @total = @measured = 0
        @groups = {}
        return unless clause.step_us

        beside ? lay(beside) : step(utc_offset)
      end

      # @return [Integer] steps that cover the window
      def steps = step_us ? [-(-(question.to_us - start_us) / step_us), 1].max : 0

      # @return [Integer] groups, of which {#rows} has the first
      def found = by_group.size

      # @return [Array<Group>] the greatest first, no more than the clause asks for
      def rows = ranked.first(clause.top).map(&:last)

      # @param others [Array<Group>]
      # @return [Array<Group>] its own with the same values of the fields
      def named(others) = others.map { |other| group(other.by, by_group.fetch(other.by, {})) }

      # @return [Group, nil] the rest together
      def other
        rest = ranked.drop(clause.top)
        group(nil, join_all(rest.map { |key, _| by_group[key] })) if rest.any?
      end

      # @return [Group] all together
      def whole = group([], join_all(by_group.values))

      # @return [String, nil] unit of the values: s, B or %
      attr_reader :unit

      # @yield after each piece; what the block raises stops the work
      # @return [self]
      def count(&)
        return super unless clause.aggregate == "count"

        lines = LineCounts.new(question, clause.by)
        hourly = HourlyCounts.new(question, clause.by)
        if by_hour? && hourly.worth?
          hourly.count(&).each { |hours| take_hours(hours) }
        elsif lines.without_look?
          tally(lines.count(**span, &))
        else
          return super
        end
        @done = 1.0
        self
      end

      private

      # @return [Boolean] whether its steps are made of whole hours
      def by_hour? = step_us.nil? || [step_us, start_us].all? { |us| (us % Rollup::HOUR).zero? }

      def take_hours(hours)
        hours.each do |hour, groups|
          step = step_us ? ((hour * Rollup::HOUR) - start_us) / step_us : 0
          tally(groups.transform_keys { |by| [step, *by] })
        end
      end

      # Steps to count in; where none are wanted, one that has everything.
      def span
        return { start_us: start_us, step_us: step_us } if step_us

        start_us = question.from_us / Rollup::HOUR * Rollup::HOUR
        { start_us: start_us, step_us: (((question.to_us - start_us) / Rollup::HOUR) + 1) * Rollup::HOUR }
      end

      # @param groups [Hash{Array=>Integer}] lines by step and values
      def tally(groups)
        @ranked = @by_group = nil
        groups.each do |key, n|
          @groups[key] = @groups.fetch(key, 0) + n
          @total += n
          @measured += n
        end
      end

      def step(utc_offset)
        @step_us = clause.step_us.zero? ? Measure::Steps.size(question.from_us, question.to_us, STEPS) : clause.step_us
        if (question.to_us - question.from_us) / @step_us > 5000
          raise Error, "per #{@step_us / 1e6} s makes too many steps of this window; per auto finds one that fits"
        end

        @start_us = Measure::Steps.start(question.from_us, @step_us, utc_offset: utc_offset)
      end

      def lay(other)
        lasts_us = other.question.to_us - other.question.from_us
        scale = (question.to_us - question.from_us).fdiv([lasts_us, 1].max)
        @step_us = [(other.step_us * scale).round, 1].max
        @start_us = question.from_us - ((other.question.from_us - other.start_us) * scale).round
      end

      def task = :gathered
      def options(_) = { clause: clause, start_us: start_us || 0, step_us: step_us }

      def take(result, _side, _job)
        @total += result["lines"]
        @measured += result["measured"]
        @unit ||= result["unit"]
        @ranked = @by_group = nil
        result["groups"].each do |key, gathered|
          @groups[key] = @groups.key?(key) ? clause.way.join.call(@groups[key], gathered) : gathered
        end
      end

      # @return [Hash{Array=>Hash{Integer=>Object}}] gatherings by step, by values of the fields
      def by_group
        @by_group ||=
          @groups.each_with_object({}) { |((step, *by), gathered), found| (found[by] ||= {})[step] = gathered }
      end

      def ranked
        @ranked ||=
          by_group
            .map { |by, gathered| [by, group(by, gathered)] }
            .sort_by { |by, one| [by.include?(Gathering::OTHER) ? 1 : 0, -(one.value || 0), by.map(&:to_s)] }
      end

      def join_all(groups)
        groups.each_with_object({}) do |steps, all|
          steps.each { |step, gathered| all[step] = all.key?(step) ? joined([all[step], gathered]) : gathered }
        end
      end

      # Joining may use up what it is given.
      def joined(gathered) = gathered.reduce(clause.way.start.call) { |one, other| clause.way.join.call(one, other) }

      def group(by, steps)
        result = clause.way.result
        Group.new(by, result.call(joined(steps.values)), step_us ? steps.transform_values(&result) : {})
      end
    end
  end
end
