# frozen_string_literal: true

module Northdrift
  module Measure
    # When something turned bad: the first step in which it complains clearly more than it otherwise does. A machine
    # that has always had its few errors does not come before the one where the trouble began.
    module Onset
      # Weight of a line by its severity: warnings count, errors count fully, critical ones more.
      WEIGHTS = [4, 4, 4, 1, 0.25, 0, 0, 0, 0].freeze

      module_function

      # The usual level is the median over all steps; a step stands out when it is more than three standard deviations
      # of a Poisson count of that level above it (common practice for counts; the variance of a Poisson variable is its
      # mean).
      # @param counts [Hash{Integer=>Array<Integer>}] counts of the nine severities by step; steps without lines are
      #   left out
      # @param steps [Integer] number of steps
      # @return [Integer, nil] the step; nil when there is nothing bad
      def step(counts, steps)
        badness =
          counts.transform_values { |severities| severities.each_with_index.sum { |n, code| n * WEIGHTS[code] } }
        usual = median(badness.values + Array.new([steps - badness.size, 0].max, 0))
        limit = usual + (3 * Math.sqrt([usual, 0.01].max))
        badness.select { |_, bad| bad > limit }.keys.min || badness.select { |_, bad| bad >= 1 }.keys.min
      end

      def median(values)
        sorted = values.sort
        (sorted[(sorted.size - 1) / 2] + sorted[sorted.size / 2]) / 2.0
      end
      private_class_method :median
    end
  end
end
