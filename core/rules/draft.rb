# frozen_string_literal: true

require "ipaddr"

module Northdrift
  module Rules
    # The expression of a parser, drafted from a sample line and the parts of it that a person chose. What stands
    # between the parts is kept as it is where all samples share it, and left open where they differ.
    class Draft
      # A stretch of the sample. Offsets and sizes count characters (Unicode scalar values).
      # @!attribute name [String, nil] of the field; for a piece, what its surroundings propose
      Part = Struct.new(:at, :size, :name)

      # What one can choose: what stands in quotes, or between blanks and punctuation.
      PIECE = /"(?<quoted>[^"]*)"|(?<word>[^\s,;()\[\]{}"'=|<>]+)/
      # A number and a unit that says nothing to us: the number is the part.
      MEASURED = /\A[-+]?\d+(?:\.\d+)?(?=[A-Za-z°]{1,4}\z)/
      # Punctuation that ends a sentence rather than a word.
      TRAILING = /(?<=.)[.:!?]+\z/
      KEY = /([A-Za-z][\w.-]*)\s?[=:]\s?["'(\[]?\z/
      # Words that say what the next one is; a number is told by any word before it.
      TELLING =
        /\b(user|from|to|by|for|port|id|code|status|host|address|device|interface|session|queue|file) ["'(\[]?\z/i
      BEFORE_NUMBER = /\b([A-Za-z][\w.-]*) ["'(\[]?\z/

      # A bare m may be metres.
      def self.duration?(text)
        quantity = Find::Quantity.parse(text)
        !quantity.nil? && quantity.dimension == :time && quantity.unit != "m"
      end
      private_class_method :duration?

      # Kinds of values: type, what tells it, and the expression, tried in this order.
      KINDS = [
        ["whole", ->(text) { text.match?(/\A[-+]?\d{1,18}\z/) }, '[-+]?\d+'],
        ["number", ->(text) { text.match?(/\A[-+]?\d+\.\d+\z/) }, '[-+]?\d+(?:\.\d+)?'],
        ["duration", ->(text) { duration?(text) }, '\d+(?:\.\d+)?\s?[a-zµ]+'],
        ["size", ->(text) { Find::Quantity.parse(text)&.dimension == :size }, '\d+(?:\.\d+)?\s?[A-Za-z]+'],
        ["address", ->(text) { Parser.address(text) }, '[\d.A-Fa-f:]+']
      ].freeze

      # @param samples [Array<String>] messages; the parts are of the first
      # @param parts [Array<Part>]
      # @raise [Mistake] when parts overlap or lie outside
      def initialize(samples, parts)
        @text = samples.first.to_s
        @others = samples.drop(1)
        @parts = parts.sort_by(&:at)
        check
      end

      # @return [Array<Part>] what can be chosen in the first sample
      def pieces = @pieces ||= scan

      # @return [String, nil] RE2 syntax; nil while no part is chosen
      def pattern
        return if @parts.empty?

        at = 0
        built = @parts.zip(names).map do |part, name|
          fixed = between(at, part.at)
          at = part.at + part.size
          "#{fixed}(?P<#{name}>#{expression(part)})"
        end.join
        "^#{built}#{following(at)}"
      end

      # @return [Hash{String=>String}] type by group
      def types = names.zip(@parts).to_h { |name, part| [name, kind(text(part))&.first || "text"] }

      private

      def text(part) = @text[part.at, part.size]

      def check
        ends = 0
        @parts.each do |part|
          if part.at.negative? || !part.size.positive? || part.at + part.size > @text.size
            raise Mistake.new("parts", "a part lies outside the line")
          end
          raise Mistake.new("parts", "“#{Text.display(text(part))}” overlaps the part before") if part.at < ends

          ends = part.at + part.size
        end
      end

      def scan
        found = []
        at = 0
        while (match = PIECE.match(@text, at))
          group = match[:quoted] ? :quoted : :word
          size = group == :word ? part_of(match[:word]).size : match[:quoted].size
          found << Part.new(match.begin(group), size, propose(match.begin(group))) if size.positive?
          at = match.end(0)
        end
        found
      end

      def part_of(word)
        word = word.sub(TRAILING, "")
        kind(word) ? word : word[MEASURED] || word
      end

      # What stands before a value often says what it is.
      def propose(at)
        before = @text[0, at]
        (
          before[KEY, 1] || before[TELLING, 1] || (@text[at..].match?(/\A[-+]?\d/) && before[BEFORE_NUMBER, 1]) || nil
        )&.downcase
      end

      # Names are made such as RE2 takes; none is given twice.
      def names
        @names ||= @parts.each_with_index.with_object([]) do |(part, index), names|
          name = (part.name || propose(part.at) || "value_#{index + 1}").gsub(/\W+/, "_").sub(/\A(?=\d)/, "_")
          name = "value_#{index + 1}" if name.delete("_").empty?
          names << (names.include?(name) ? "#{name}_#{index + 1}" : name)
        end
      end

      def kind(text) = KINDS.find { |_, test, expression| test.call(text) && text.match?(/\A#{expression}\z/) }

      # The narrowest expression that other values will match too.
      def expression(part)
        text = text(part)
        return kind(text).last if kind(text)

        stop = @text[part.at + part.size]
        return "[^\"]*" if stop == '"' && !text.include?(stop)
        return stop ? ".*?" : ".*" if text.match?(/\s/)

        stop && !stop.match?(/[\s\w]/) && !text.include?(stop) ? "[^\\s#{escape(stop)}]+" : '\S+'
      end

      # What stands between two parts: the pieces that vary are open.
      def between(from, to)
        fixed = +""
        at = from
        pieces.select { |piece| piece.at >= from && piece.at + piece.size <= to }.each do |piece|
          fixed << blanks(@text[at...piece.at]) << (steady?(piece) ? escape(text(piece)) : expression(piece))
          at = piece.at + piece.size
        end
        fixed << blanks(@text[at...to])
      end

      # What ends the last part; the rest of the line may be anything.
      def following(at)
        rest = @text[at..]
        return "$" if rest.empty?

        piece = pieces.find { |one| one.at >= at }
        stop = piece ? @text[at...piece.at] : rest
        piece && steady?(piece) ? "#{blanks(stop)}#{escape(text(piece))}" : blanks(stop)
      end

      # RE2's own escaping puts a backslash before every sign, which nobody can read.
      def escape(text) = text.gsub(/[.*+?()\[\]{}|^$\\]/) { |sign| "\\#{sign}" }

      def blanks(text) = text.split(/(\s+)/).map { |part| part.match?(/\A\s+\z/) ? '\s+' : escape(part) }.join

      # Words of the program stand; what a template leaves open, and what other samples lack, does not.
      def steady?(piece)
        word = text(piece)
        return false if @text[piece.at - 1] == "=" && piece.at.positive?

        Patterns::Mask.template(word.b) == word.b && @others.all? { |other| other.include?(word) }
      end
    end
  end
end
