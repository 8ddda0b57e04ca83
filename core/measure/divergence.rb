# frozen_string_literal: true

module Northdrift
  module Measure
    # How far two distributions are apart: the Jensen-Shannon divergence in bits (J. Lin: "Divergence measures based on
    # the Shannon entropy", IEEE Transactions on Information Theory 37, 1991), from 0 for the same to 1 for nothing in
    # common.
    module Divergence
      module_function

      # @param one [Hash{Object=>Integer}] counts by value
      # @param other [Hash{Object=>Integer}]
      # @return [Float] less what chance alone would give two samples of these sizes; 0 when one is empty
      def between(one, other)
        sizes = [one, other].map { |counts| counts.values.sum }
        return 0.0 if sizes.any?(&:zero?)

        values = one.keys | other.keys
        bits = values.sum do |value|
          shares = [one, other].zip(sizes).map { |counts, size| counts.fetch(value, 0).fdiv(size) }
          middle = shares.sum / 2
          shares.sum { |share| share.zero? ? 0.0 : share * Math.log2(share / middle) / 2 }
        end
        [bits - chance(values.size, *sizes), 0.0].max
      end

      # To second order the divergence is an eighth of a chi-squared statistic, whose mean is its degrees of freedom.
      def chance(values, first, second) = (values - 1) / 8.0 / Math.log(2) * (1.0.fdiv(first) + 1.0.fdiv(second))
      private_class_method :chance
    end
  end
end
