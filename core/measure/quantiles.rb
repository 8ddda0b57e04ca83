# frozen_string_literal: true

module Northdrift
  module Measure
    # Sample quantiles, linear between the two nearest order statistics: definition 7 of R. J. Hyndman, Y. Fan: "Sample
    # quantiles in statistical packages", The American Statistician 50 (1996).
    module Quantiles
      module_function

      # @param counts [Array<Array(Numeric, Integer)>] values in ascending order, and how often each occurs
      # @param shares [Array<Float>] 0 to 1, in ascending order
      # @return [Array<Float, nil>] a quantile for each share; nil without values
      def of(counts, shares)
        n = counts.sum(&:last)
        return shares.map { nil } if n.zero?

        reached = 0
        ends = counts.map { |_, count| reached += count }
        shares.map do |share|
          place = (n - 1) * share
          low = at(counts, ends, place.floor)
          high = at(counts, ends, place.ceil)
          low + ((high - low) * (place - place.floor)).to_f
        end
      end

      # @return [Numeric] the value with so many before it
      def at(counts, ends, index) = counts[ends.bsearch_index { |last| last > index }][0]
      private_class_method :at
    end
  end
end
