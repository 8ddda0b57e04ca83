# frozen_string_literal: true

module Northdrift
  module Reading
    # `key=value` and `key="quoted value"` pairs inside a text.
    module Pairs
      PAIR = /(?<![^\s,;(\[{])([A-Za-z_@][\w.@\/-]{0,63})=(?:"((?>[^"\\]+|\\.)*)"|'([^']*)'|([^\s,;"'()\[\]{}]+))/
      ESCAPE = /\\(.)/m
      UNESCAPED = { "n" => "\n", "t" => "\t", "r" => "\r" }.freeze
      LIMIT = 64
      # A name has at most so many bytes, and one stands before it.
      KEY_REACH = 65

      module_function

      # @param text [String] bytes
      # @return [Hash{String=>String}] values by their written names; the first of equal names stands
      def scan(text) = measure(text).first

      # @param text [String] bytes
      # @return [Array(Hash, Integer)] the pairs, and how many bytes of the text they take
      def measure(text)
        pairs = {}
        covered = 0
        at = start(text) or return [pairs, covered]
        while (match = PAIR.match(text, at))
          covered += match.end(0) - match.begin(0)
          at = match.end(0)
          key = match[1]
          next if pairs.size >= LIMIT || pairs.key?(key)

          quoted = match[2]
          pairs[key] = quoted ? unescape(quoted) : match[3] || match[4]
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

      # The text before the first pair is often most of it.
      # @return [Integer, nil] where the first pair can start; nil when there is none
      def start(text)
        equals = text.index("=") or return
        equals > KEY_REACH ? equals - KEY_REACH : 0
      end
      private_class_method :start

      def unescape(value)
        return value unless value.include?("\\")

        value.gsub(ESCAPE) { UNESCAPED.fetch(Regexp.last_match(1), Regexp.last_match(1)) }
      end
    end
  end
end
