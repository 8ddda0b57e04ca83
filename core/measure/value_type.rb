# frozen_string_literal: true

require "ipaddr"

module Northdrift
  module Measure
    # What the values of a field are: numbers, durations, sizes, addresses, yes or no, or text.
    module ValueType
      # So many values are looked at, and this share of them must agree.
      LOOKED_AT = 200
      AGREE = 0.95
      DIMENSIONS = { time: "duration", size: "size", share: "share" }.freeze
      NUMERIC = ["number", *DIMENSIONS.values].freeze

      module_function

      # @param field [String] name, which may tell the unit of bare numbers
      # @param values [Array<String>]
      # @return [String] "number", "duration", "size", "share", "address", "yes or no", or "text"
      def of(field, values)
        values = values.first(LOOKED_AT)
        kinds = values.map { |value| one(field, value) }.tally
        best, count = kinds.max_by(&:last)
        best && count >= values.size * AGREE ? best : "text"
      end

      # @return [Float, nil] a value in its base unit: seconds, bytes, or as it stands
      def number(field, value)
        quantity = Find::Quantity.parse(value) or return
        unit = quantity.unit || Find::Quantity.unit_of(field)
        (unit ? Find::Quantity.new(quantity.number, unit).base : quantity.number).to_f
      end

      # @param type [String]
      # @return [String, nil] unit of {number}
      def unit(type) = { "duration" => "s", "size" => "B", "share" => "%" }[type]

      # @return [String, nil] unit of {number} for one value
      def unit_of(field, value) = unit(one(field, value))

      def one(field, value)
        return "yes or no" if %w[true false].include?(value)

        quantity = Find::Quantity.parse(value)
        return address?(value) ? "address" : "text" unless quantity

        unit = quantity.unit || Find::Quantity.unit_of(field)
        DIMENSIONS.fetch(Find::Quantity::UNITS.dig(unit, 0), "number")
      end
      private_class_method :one

      def address?(value)
        value.match?(/\A(?:\d+\.\d+\.\d+\.\d+|[\h:]*:[\h:.]*:[\h:.]*)\z/) && IPAddr.new(value)
      rescue IPAddr::Error
        false
      end
      private_class_method :address?
    end
  end
end
