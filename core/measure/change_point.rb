# frozen_string_literal: true

module Northdrift
  module Measure
    # Since when a level is another: the point that parts a series best, by ranks, so that single peaks weigh no more
    # than any other value (A. N. Pettitt, A Non-Parametric Approach to the Change-Point Problem, Applied Statistics 28
    # (1979), 126-135: the statistic K and its approximate significance, equations 2.2 and 3.3).
    #
    # @!attribute at [Integer] index of the first value at the new level
    # @!attribute before [Float] mean up to there
    # @!attribute after [Float] mean from there on
    # @!attribute p [Float] how likely as large a difference is where nothing changes and values do not depend on each
    #   other
    ChangePoint = Struct.new(:at, :before, :after, :p)

    class ChangePoint
      # Fewer values tell nothing.
      LEAST = 8

      # @param values [Array<Numeric>] in order of time
      # @return [ChangePoint, nil] nil where there are too few values, or all are the same
      def self.of(values)
        n = values.size
        return if n < LEAST || values.uniq.size < 2

        sum = 0.0
        differences = ranks(values).each_with_index.map { |rank, at| (2 * (sum += rank)) - ((at + 1) * (n + 1)) }
        at = (0...n - 1).max_by { |index| differences[index].abs } + 1
        p = [2 * Math.exp(-6 * (differences[at - 1]**2) / ((n**3) + (n**2)).to_f), 1.0].min
        new(at, mean(values.first(at)), mean(values.drop(at)), p)
      end

      # Equal values share the mean of their ranks.
      def self.ranks(values)
        places = values.sort.each_with_index.group_by(&:first).transform_values { |all| mean(all.map(&:last)) + 1 }
        values.map { |value| places.fetch(value) }
      end
      private_class_method :ranks

      def self.mean(values) = values.sum.fdiv(values.size)
      private_class_method :mean
    end
  end
end
