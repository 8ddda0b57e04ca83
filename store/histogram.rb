# frozen_string_literal: true

module Northdrift
  module Store
    # Events of a question by step of time and severity: all together, or for each machine or service.
    class Histogram
      # @!attribute name [String, nil]
      # @!attribute counts [Hash{Integer=>Array<Integer>}] by step: counts of the nine severities
      # @!attribute total [Integer]
      Series = Struct.new(:name, :counts, :total)

      # @return [Integer] microseconds UTC where the first step starts, and the size of a step
      attr_reader :start_us, :step_us
      # @return [Integer] number of steps
      attr_reader :steps
      # @return [Array<Series>] for lanes in order of who turned bad first
      attr_reader :series

      # @param question [Question]
      # @param by [Symbol, nil] :machine, :service
      def initialize(question, by:, bins:, utc_offset: 0)
        @question = question
        @by = by
        @step_us = Measure::Steps.size(question.from_us, question.to_us, bins)
        @start_us = Measure::Steps.start(question.from_us, @step_us, utc_offset: utc_offset)
        @steps = [-(-(question.to_us - @start_us) / @step_us), 1].max
      end

      # @return [self]
      def count(condition, kinds, &)
        names = @by ? kinds.map(&@by).uniq : [nil]
        numbers = names.each_with_index.to_h
        lanes = @by && kinds.to_h { |kind| [kind.id, numbers[kind.public_send(@by)]] }
        series = {}
        Counts.new(condition, lanes: lanes).each_step(@question.from_us, @question.to_us, @start_us, @step_us, &).each do |(step, severity, lane), n|
          one = series[lane] ||= Series.new(names[lane], {}, 0)
          (one.counts[step] ||= Array.new(9, 0))[severity] += n
          one.total += n
        end
        @series = @by ? in_order(series.values) : series.values
        self
      end

      # @return [Integer]
      def total = @series.sum(&:total)

      private

      def in_order(series)
        series.sort_by { |one| [Measure::Onset.step(one.counts, @steps) || @steps, one.name.nil? ? 1 : 0, one.name.to_s] }
      end
    end
  end
end
