# frozen_string_literal: true

module Northdrift
  module Measure
    # Values with their units, for people.
    module Units
      SCALES = {
        "s" => [[86_400, "d"], [3600, "h"], [60, "min"], [1, "s"], [1e-3, "ms"], [1e-6, "µs"]],
        "B" => [[1e12, "TB"], [1e9, "GB"], [1e6, "MB"], [1e3, "kB"], [1, "B"]]
      }.freeze

      module_function

      # @param value [Numeric, nil] in the unit
      # @param unit [String, nil] s, B, %, or none
      # @return [String]
      def text(value, unit)
        return "-" if value.nil?

        size, name = SCALES.fetch(unit, []).find { |least, _| value.abs >= least } || [1, unit]
        "#{rounded(value / size.to_r)}#{" #{name}" if name}"
      end

      def rounded(value)
        number = value.to_f
        digits = { 100 => 0, 10 => 1, 1 => 2 }.find { |least, _| number.abs >= least }&.last || 3
        text = number.round(digits)
        text == text.to_i ? text.to_i.to_s : text.to_s
      end
      private_class_method :rounded
    end
  end
end
