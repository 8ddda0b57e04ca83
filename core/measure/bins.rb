# frozen_string_literal: true

module Northdrift
  module Measure
    # Bins of a histogram of numbers: of equal width, or, where a few values are far greater than the usual, of equal
    # ratio.
    module Bins
      # A greatest value so many times the median asks for bins of equal ratio.
      FAR = 20

      module_function

      # @return [Array<Float>] edges, one more than there are bins; the last belongs to the last bin
      def edges(least, most, median, bins)
        return [least.to_f, most.to_f] if most <= least
        if least.positive? && most > median * FAR
          return Array.new(bins + 1) { |index| least * (most.fdiv(least)**index.fdiv(bins)) }
        end

        Array.new(bins + 1) { |index| least + ((most - least) * index.fdiv(bins)) }
      end

      # @param counts [Array<Array(Numeric, Integer)>] values in ascending order, and how often each occurs
      # @return [Array<Integer>] a count for each bin
      def counts(counts, edges)
        totals = Array.new([edges.size - 1, 1].max, 0)
        counts.each do |value, n|
          bin = (edges.bsearch_index { |edge| edge > value } || edges.size) - 1
          totals[bin.clamp(0, totals.size - 1)] += n
        end
        totals
      end
    end
  end
end
