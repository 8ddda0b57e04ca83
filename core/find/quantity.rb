# frozen_string_literal: true

module Northdrift
  module Find
    # A number with its unit. Durations are compared in seconds, sizes in bytes; multiples of bytes are of 1000 with
    # SI prefixes and of 1024 with the binary ones of IEC 80000-13 (KiB, MiB …).
    Quantity = Struct.new(:number, :unit) do
      # @return [Numeric] in the base unit; a whole number as long as it can be, since identifiers have more digits than
      #   a Float
      def base = number * factor

      # @return [Symbol, nil] :time, :size, or nil for a bare number
      def dimension = Quantity::UNITS.dig(unit, 0)

      # @return [Numeric]
      def factor = Quantity::UNITS.dig(unit, 1) || 1
    end

    class Quantity
      UNITS = {
        "ns" => [:time, 1e-9], "us" => [:time, 1e-6], "µs" => [:time, 1e-6], "ms" => [:time, 1e-3], "s" => [:time, 1],
        "sec" => [:time, 1], "m" => [:time, 60.0], "min" => [:time, 60.0], "h" => [:time, 3600.0],
        "d" => [:time, 86_400.0], "b" => [:size, 1], "kb" => [:size, 1e3], "mb" => [:size, 1e6], "gb" => [:size, 1e9],
        "tb" => [:size, 1e12], "kib" => [:size, 1024.0], "mib" => [:size, 1024.0**2], "gib" => [:size, 1024.0**3],
        "tib" => [:size, 1024.0**4], "%" => [:share, 1]
      }.freeze
      # The largest unit must not carry a number beyond either.
      MOST = 1e280
      SYNTAX = /\A([-+]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][-+]?\d+)?) ?([A-Za-zµ%]{0,3})\z/
      WHOLE = /\A[-+]?\d+\z/
      # What the ending of a field's name says about its bare numbers.
      NAME_UNITS = {
        "ms" => "ms", "us" => "us", "ns" => "ns", "s" => "s", "sec" => "s", "seconds" => "s", "millis" => "ms",
        "bytes" => "b", "kb" => "kb", "mb" => "mb"
      }.freeze

      # @param text [String, Numeric]
      # @return [Quantity, nil] nil when it is no number, one that is too large, or has a unit that is not known
      def self.parse(text)
        return within(text, nil) if text.is_a?(Numeric)

        match = SYNTAX.match(text) or return
        unit = match[2].empty? ? nil : match[2].downcase
        within(WHOLE.match?(match[1]) ? match[1].to_i : match[1].to_f, unit) if unit.nil? || UNITS.key?(unit)
      end

      # What is beyond all numbers that a computer tells apart (1e999) cannot be counted with.
      def self.within(number, unit) = (new(number, unit) if number.abs <= MOST)
      private_class_method :within

      # @param field [String] name
      # @return [String, nil] the unit of its bare numbers
      def self.unit_of(field) = NAME_UNITS[field[/[._]([a-z]+)\z/, 1]]

      # Compares a value of a field with one that a person typed.
      # @return [Integer, nil] as `<=>`; nil when they cannot be compared (time against size)
      def self.compare(value, wanted, field)
        value = new(value.number, unit_of(field)) if value.unit.nil? && wanted.unit
        # What was typed without a unit is in the field's own.
        wanted = new(wanted.number, value.unit) if wanted.unit.nil?
        return if value.dimension && wanted.dimension && value.dimension != wanted.dimension

        value.base <=> wanted.base
      end
    end
  end
end
