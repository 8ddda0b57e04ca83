# frozen_string_literal: true

module Northdrift
  module Measure
    # What the values of a field, or of an open place, come to.
    module Summary
      BINS = 24

      module_function

      # @param field [String] name, which may tell the unit of bare numbers
      # @param counts [Hash{String=>Integer}] how often each value occurs
      # @return [Array(String, Hash)] type (see {ValueType}); of numbers also min, median, p95, max, unit, and edges and
      #   counts of a histogram
      def of(field, counts)
        type = ValueType.of(field, counts.keys.first(ValueType::LOOKED_AT).map { |value| Text.utf8(value) })
        [type, ValueType::NUMERIC.include?(type) && counts.size > 1 ? numbers(field, type, counts) : nil]
      end

      def numbers(field, type, counts)
        numbers =
          counts
            .filter_map { |value, n| ValueType.number(field, Text.utf8(value))&.then { |number| [number, n] } }
            .sort_by(&:first)
        least, median, high = Quantiles.of(numbers, [0.0, 0.5, 0.95])
        most = numbers.last[0]
        edges = Bins.edges(least, most, median, BINS)
        {
          "min" => least, "median" => median, "p95" => high, "max" => most, "unit" => ValueType.unit(type),
          "edges" => edges, "counts" => Bins.counts(numbers, edges)
        }
      end
      private_class_method :numbers
    end
  end
end
