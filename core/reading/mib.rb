# frozen_string_literal: true

module Northdrift
  module Reading
    # Names of object identifiers, from module files (SMIv2: RFC 2578, RFC 2579 and RFC 2580; SMIv1: RFC 1155 and RFC
    # 1215) in any order. It reads what names need: where a name stands in the tree, and the words of numbers.
    class Mib
      # Known without a file (RFC 1155, section 3.1; RFC 2578, section 2).
      ROOTS = {
        "ccitt" => [0], "iso" => [1], "joint-iso-ccitt" => [2], "org" => [1, 3], "dod" => [1, 3, 6],
        "internet" => [1, 3, 6, 1], "directory" => [1, 3, 6, 1, 1], "mgmt" => [1, 3, 6, 1, 2],
        "mib-2" => [1, 3, 6, 1, 2, 1], "transmission" => [1, 3, 6, 1, 2, 1, 10], "experimental" => [1, 3, 6, 1, 3],
        "private" => [1, 3, 6, 1, 4], "enterprises" => [1, 3, 6, 1, 4, 1], "security" => [1, 3, 6, 1, 5],
        "snmpV2" => [1, 3, 6, 1, 6], "snmpDomains" => [1, 3, 6, 1, 6, 1], "snmpProxys" => [1, 3, 6, 1, 6, 2],
        "snmpModules" => [1, 3, 6, 1, 6, 3]
      }.freeze
      QUOTED = /"[^"]*"/m
      # Up to the end of the line, or to the next two dashes (X.680, section 12.6).
      COMMENT = /--(?:(?!--)[^\n])*(?:--|$)/
      # What a definition ends with: its place below another, or the number of a trap.
      PLACE = /::=\s*(?:\{([^{}]*)\}|(\d+))/
      MACROS = "OBJECT\\s+IDENTIFIER|OBJECT-TYPE|NOTIFICATION-TYPE|MODULE-IDENTITY|OBJECT-IDENTITY|TRAP-TYPE|" \
               "(?:OBJECT|NOTIFICATION)-GROUP|MODULE-COMPLIANCE|AGENT-CAPABILITIES"
      HEADING = /\b([a-z][\w-]*)\s+(#{MACROS})\b/
      ENTERPRISE = /\bENTERPRISE\s+(?:\{\s*)?([a-z][\w-]*)/
      WORDS = /\{((?>\s*+[a-z][\w-]*+\s*+\(\s*+-?\d++\s*+\)\s*+,?)+)\s*\}/
      WORD = /([a-z][\w-]*)\s*\(\s*(-?\d+)\s*\)/
      SYNTAX = /\bSYNTAX\s+([A-Za-z][\w-]*)/
      # A type of its own, and the words of its numbers.
      TYPE = /\b([A-Z][\w-]*)\s*\z/
      NUMBERS = /\b(?:INTEGER|BITS)\s*#{WORDS}/
      ASSIGNED = "::="
      LONGEST_NAME = 200
      STEP = /\A(?:([a-zA-Z][\w-]*)\s*\(\s*(\d+)\s*\)|([a-zA-Z][\w-]*)|(\d+))\z/
      INTERPRETED = "TRAP-TYPE"
      # An object identifier has no more numbers (RFC 2578, section 3.5).
      DEEPEST = 128
      MOST_BYTES = 8 << 20

      # @!attribute name [String]
      # @!attribute words [Hash{Integer=>String}] of its numbers
      Node = Struct.new(:name, :words)

      # @param texts [Enumerable<String>] contents of module files
      def initialize(texts)
        @places = {}
        @words = {}
        @syntaxes = {}
        @types = {}
        # The same name may mean something else in another file: one's own goes first.
        @files = Hash.new { |all, name| all[name] = [] }
        texts.each_with_index do |text, file|
          @file = file
          take(text.b.force_encoding(Encoding::UTF_8).scrub[0, MOST_BYTES])
        end
        @nodes = resolved
      end

      # @return [Integer] names that have a place
      def size = @nodes.size

      # @param oid [String] in dots
      # @return [Array(String, String)] the name of the nearest known above it and what is left, such as
      #   ["ifDescr", "3"]; ["", oid] where none is known
      def split(oid)
        numbers = oid.split(".")
        numbers.size.downto(1) do |size|
          node = @nodes[numbers.first(size).join(".")] or next
          return [node.name, numbers.drop(size).join(".")]
        end
        ["", oid]
      end

      # @param oid [String] in dots
      # @return [String] its name, with what is left of it behind a dot
      def name(oid) = split(oid).reject(&:empty?).join(".")

      # @param oid [String] of a value
      # @param value [Object]
      # @return [Object] the word for a number, where there is one, and the name of an object identifier
      def value(oid, value)
        return value unless value.is_a?(Integer)

        numbers = oid.split(".")
        numbers.size.downto(1) do |size|
          node = @nodes[numbers.first(size).join(".")] or next
          return node.words&.fetch(value, nil) || value
        end
        value
      end

      private

      # Texts in quotes may hold anything, comments too.
      def take(text)
        text = text.gsub(QUOTED, '""').gsub(COMMENT, " ")
        text.split(ASSIGNED).each_cons(2) { |before, after| type(before[-LONGEST_NAME..] || before, after) }
        from = 0
        while (found = PLACE.match(text, from))
          define(text[from...found.begin(0)], found)
          from = found.end(0)
        end
      end

      def type(before, after)
        name = before[TYPE, 1] or return
        words = NUMBERS.match(after)
        @types[name] = words_of(words[1]) if words
      end

      def define(before, found)
        heading = before.rindex(HEADING) or return
        body = before[heading..]
        name, macro = HEADING.match(body).captures
        return trap(name, body, found[2]) if macro == INTERPRETED
        return unless found[1]

        one = place(name, found[1].strip.split(/\s+(?![^(]*\))/))
        words = WORDS.match(body)
        @words[one] = words_of(words[1]) if words
        @syntaxes[one] = body[SYNTAX, 1]
      end

      # @return [Array(Integer, String)] the name, with its file
      def place(name, steps)
        one = [@file, name]
        @files[name] << @file unless @places.key?(one)
        @places[one] = steps
        one
      end

      # SMIv1 (RFC 1215): its number is below nought of the enterprise (RFC 3584, section 3.1).
      def trap(name, body, number)
        enterprise = body[ENTERPRISE, 1]
        place(name, [enterprise, "0", number]) if enterprise && number
      end

      def words_of(text) = text.scan(WORD).to_h { |word, number| [number.to_i, word] }

      def resolved
        @resolved = {}
        @places.keys.filter_map do |one|
          numbers = numbers_of(one) or next
          [numbers.join("."), Node.new(one.last, @words[one] || @types[@syntaxes[one]])]
        end.to_h
      end

      # @return [Array<Integer>, nil] nil where what it stands below is not known
      def numbers_of(one, depth = 0)
        return @resolved[one] if @resolved.key?(one)
        return if depth > DEEPEST

        # What stands below itself has no place.
        @resolved[one] = nil
        first, *others = @places.fetch(one)
        above, number = STEP.match(first)&.then { |step| [step[1] || step[3], step[2] || step[4]] }
        start = (above && above(above, one.first, depth)) || (number && [number.to_i]) or return
        rest = others.map { |step| STEP.match(step)&.then { |found| found[2] || found[4] } }
        @resolved[one] = start + rest.map(&:to_i) if rest.all?
      end

      def above(name, file, depth)
        return ROOTS[name] if ROOTS.key?(name)

        files = @files.fetch(name, [])
        numbers_of([files.include?(file) ? file : files.first, name], depth + 1) if files.any?
      end
    end
  end
end
