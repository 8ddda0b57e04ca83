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
      # @return [Array<Folds::Fold>] gaps that take fewer steps than their time has
      attr_reader :folds
      # @return [Array<Series>] for lanes in order of who turned bad first
      attr_reader :series

      # @param question [Question]
      # @param by [Symbol, nil] :machine, :service
      # @param fold [Boolean] whether long stretches without a line are folded
      def initialize(question, by:, bins:, utc_offset: 0, fold: false)
        @question = question
        @by = by
        gaps = fold ? Folds.worth(Stretch.gaps(question.from_us, question.to_us), question.from_us, question.to_us) : []
        drawn_us = question.to_us - question.from_us - gaps.sum { |from, to| to - from }
        @step_us = Measure::Steps.size(0, drawn_us, bins - (gaps.size * Folds::STEPS))
        @start_us = Measure::Steps.start(question.from_us, @step_us, utc_offset: utc_offset)
        @folded = Folds.new(gaps, @start_us, @step_us)
        @folds = @folded.folds
        @steps = [-(-(question.to_us - @start_us) / @step_us) - @folded.left_out, 1].max
      end

      # Events of another question by step, at the places of these: its window laid over this one's, and scaled where it
      # is of another length.
      # @param other [Question]
      # @return [Array<Float>] by step
      def beside(other)
        scale = (@question.to_us - @question.from_us).fdiv([other.to_us - other.from_us, 1].max)
        step_us = [(@step_us / scale).round, 1].max
        start_us = other.from_us - ((@question.from_us - @start_us) / scale).round
        totals = Array.new(@steps, 0.0)
        other
          .in_pieces(:step_counts, by: nil, start_us: start_us, step_us: step_us) { |_| yield if block_given? }
          .each { |counts| counts.each { |(step, _, _), n| totals[step.clamp(0, @steps - 1)] += n * scale } }
        totals
      end

      # @yieldparam done [Float] 0 to 1, after each piece; what the block raises stops the work
      # @return [self]
      def count(&)
        series = {}
        @question.in_pieces(:step_counts, by: @by, start_us: @start_us, step_us: @step_us, &).each do |counts|
          counts.each do |(step, severity, name), n|
            one = series[name] ||= Series.new(name, {}, 0)
            (one.counts[@folded.place(step).clamp(0, @steps - 1)] ||= Array.new(9, 0))[severity] += n
            one.total += n
          end
        end
        @series = @by ? in_order(series.values) : series.values
        self
      end

      # @return [Integer]
      def total = @series.sum(&:total)

      # @param most [Integer] series that are told by name
      # @return [Series] all further ones together
      def others(most)
        @series.drop(most).each_with_object(Series.new(nil, {}, 0)) do |one, all|
          all.counts.merge!(one.counts) { |_, sum, counts| sum.zip(counts).map(&:sum) }
          all.total += one.total
        end
      end

      private

      def in_order(series)
        series.sort_by do |one|
          [Measure::Onset.step(one.counts, @steps) || @steps, one.name.nil? ? 1 : 0, one.name.to_s]
        end
      end
    end
  end
end
