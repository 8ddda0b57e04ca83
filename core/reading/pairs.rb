# frozen_string_literal: true

module Northdrift
  module Reading
    # `key=value` and `key="quoted value"` pairs inside a text.
    module Pairs
      PAIR = /(?<![^\s,;(\[{])([A-Za-z_@][\w.@\/-]{0,63})=(?:"((?:[^"\\]|\\.)*)"|'([^']*)'|([^\s,;"'()\[\]{}]+))/
      ESCAPE = /\\(.)/m
      UNESCAPED = { "n" => "\n", "t" => "\t", "r" => "\r" }.freeze
      LIMIT = 64

      module_function

      # @param text [String] bytes
      # @return [Hash{String=>String}] values by their written names; the first of equal names stands
      def scan(text)
        pairs = {}
        return pairs unless text.include?("=")

        text.scan(PAIR) do |key, quoted, single, plain|
          break if pairs.size >= LIMIT

          value = quoted ? unescape(quoted) : single || plain
          pairs[key] = value unless pairs.key?(key)
        end
        pairs
      end

      # @param fields [Hash] gains the pairs of the text under their common names; those there already stay
      # @return [Hash] fields
      def add(text, fields)
        scan(text).each do |key, value|
          name = FieldNames.common(key)
          fields[name] = value unless fields.key?(name)
        end
        fields
      end

      def unescape(value)
        return value unless value.include?("\\")

        value.gsub(ESCAPE) { UNESCAPED.fetch(Regexp.last_match(1), Regexp.last_match(1)) }
      end
    end
  end
end
