# frozen_string_literal: true

module Northdrift
  module Reading
    # `key=value` and `key="quoted value"` pairs inside a text.
    module Pairs
      # What names and values outside of quotes are made of, by byte.
      NAME, BARE =
        [%r{[\w.@/\x80-\xFF-]}n, /[^\s,;"'()\[\]{}]/n]
          .map { |bytes| Array.new(256) { |byte| bytes.match?(byte.chr) }.freeze }
      # What a name starts with, and what may stand before one.
      INITIAL, BEFORE =
        [/[A-Za-z_@\x80-\xFF]/n, /[\s,;(\[{]/n].map { |bytes| Array.new(256) { |byte| bytes.match?(byte.chr) }.freeze }
      LONGEST_NAME = 64
      DOUBLE, SINGLE, BACKSLASH = %q("'\\).bytes
      ESCAPE = /\\(.)/m
      UNESCAPED = { "n" => "\n", "t" => "\t", "r" => "\r" }.freeze
      LIMIT = 64

      module_function

      # @param text [String] bytes
      # @return [Hash{String=>String}] values by their written names; the first of equal names stands
      def scan(text) = measure(text).first

      # Looked for from each equals sign, to both sides and byte by byte: an expression would be tried at every place of
      # a text.
      # @param text [String] bytes
      # @return [Array(Hash, Integer)] the pairs, and how many bytes of the text they take
      def measure(text)
        pairs = {}
        covered = 0
        at = 0
        while (equals = text.index("=", at))
          start = name_start(text, at, equals)
          stop = start && value_stop(text, equals + 1)
          next at = equals + 1 unless stop

          covered += stop - start
          at = stop
          key = text.byteslice(start, equals - start)
          pairs[key] = value(text, equals + 1, stop) unless pairs.size >= LIMIT || pairs.key?(key)
        end
        [pairs, covered]
      end

      # @param fields [Hash] gains the pairs of the text under their common names; those there already stay
      # @return [Hash] fields
      def add(text, fields)
        return fields unless text.include?("=")

        scan(text).each do |key, value|
          name = FieldNames.common(key)
          fields[name] = value unless fields.key?(name)
        end
        fields
      end

      # @return [Integer, nil] where the name starts that ends before an equals sign; nil where none does
      def name_start(text, at, equals)
        start = equals
        start -= 1 while start > at && NAME[text.getbyte(start - 1)]
        if start < equals && equals - start <= LONGEST_NAME && INITIAL[text.getbyte(start)] &&
           (start.zero? || BEFORE[text.getbyte(start - 1)])
          start
        end
      end
      private_class_method :name_start

      # @return [Integer, nil] where the value ends that starts there, with its quotes; nil where there is none
      def value_stop(text, from)
        first = text.getbyte(from) or return
        return quoted_stop(text, from + 1) if first == DOUBLE
        return text.index("'", from + 1)&.succ if first == SINGLE

        stop = from
        stop += 1 while (byte = text.getbyte(stop)) && BARE[byte]
        stop if stop > from
      end
      private_class_method :value_stop

      # A quote behind an odd number of backslashes is part of the value.
      def quoted_stop(text, from)
        stop = from
        while (stop = text.index('"', stop))
          backslashes = 0
          backslashes += 1 while stop - backslashes > from && text.getbyte(stop - backslashes - 1) == BACKSLASH
          stop += 1
          return stop if backslashes.even?
        end
      end
      private_class_method :quoted_stop

      def value(text, from, stop)
        first = text.getbyte(from)
        return text.byteslice(from, stop - from) unless first == DOUBLE || first == SINGLE

        value = text.byteslice(from + 1, stop - from - 2)
        first == DOUBLE ? unescape(value) : value
      end
      private_class_method :value

      def unescape(value)
        return value unless value.include?("\\")

        value.gsub(ESCAPE) { UNESCAPED.fetch(Regexp.last_match(1), Regexp.last_match(1)) }
      end
    end
  end
end
