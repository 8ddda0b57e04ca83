# frozen_string_literal: true

require "strscan"

module Northdrift
  module Reading
    # Objects that stand in one JSON text of many lines (RFC 8259): a list of them, one within an object, or one object
    # after another, as commands print them for people. Cuts the text behind each, however it comes; nothing of it is
    # left out.
    class JsonText
      # The name of a list in an object; one of OpenTelemetry's requests is read as a whole.
      NAMED = /\{\s*"(?!resourceLogs)[^"\\]{1,60}"\s*:\s*\[/n
      # So far its list is looked for.
      ENTRY = 1 << 12
      # How the first line of such a source starts. An object that is whole within its line is one of JSON lines.
      START = /\A(?:\xEF\xBB\xBF)?\s*(?:\[\s*(?:\{|\z)|\{\s*\z|(#{NAMED})\s*(?:\{|\z))/n
      LIST = /\A(?:\xEF\xBB\xBF)?\s*#{NAMED}(?=\s*\{)/n
      PLAIN = /[^"{}\[\]]+/n
      WITHIN_STRING = /[^"\\]+|\\./mn
      # What may stand between objects beside brackets.
      BETWEEN = /[\s,]+/n
      QUOTE = /"/n
      BEHIND = /\G[ \t]*,?[ \t]*(?:\r?\n)?/n

      # @!attribute text [String] all since the one before, and what closes the line
      # @!attribute object [String] the object alone
      Piece = Struct.new(:text, :object)

      # @param line [String] the first of a source, bytes
      # @return [JsonText, nil]
      def self.of(line)
        start = START.match(line) or return
        new(line[/\A(?:\xEF\xBB\xBF)?/n].bytesize) unless start[1] && Json.parse(line)
      end

      # @param line [String] a whole JSON text, bytes
      # @return [Boolean] whether it is a list of objects that has a name
      def self.several?(line)
        return false unless line.match?(LIST)

        list = Json.parse(line)&.values
        list&.size == 1 && list[0].is_a?(Array) && list[0].size > 1 && list[0].all?(Hash)
      end

      # @param line [String] such a list
      # @return [Array<Array(Integer, String)>] where the part of each ends, and the object; all that is left is the
      #   last one's
      def self.parts(line)
        at = 0
        parts = []
        new(0).push(line) { |piece| parts << [at += piece.text.bytesize, piece.object] }
        parts[-1][0] = line.bytesize
        parts
      end

      # @return [String] what was pushed and is in no piece yet
      attr_reader :rest

      # @param lead [Integer] bytes that stand before the text
      def initialize(lead)
        @rest = "".b
        @at = @lead = lead
        @depth = 0
        @started = nil
        @within = @over = @told = @quoted = @foreign = false
      end

      # @return [Boolean] whether an object has begun and not ended
      def open? = !@started.nil?

      # @return [Boolean] whether what is left can be a part of such a text
      def fits? = @over || !@foreign

      # @param bytes [String] the next ones
      # @yieldparam piece [Piece]
      def push(bytes)
        @rest << bytes
        enter unless @within || @told || @rest.bytesize > ENTRY
        scanner = StringScanner.new(@rest)
        from = 0
        while (stop = object_end(scanner)) && fits?
          object = @rest.byteslice(@started...stop)
          piece = Piece.new(@rest.byteslice(from...(stop + BEHIND.match(@rest, stop)[0].bytesize)), object)
          @at = @lead = from += piece.text.bytesize
          @started = nil
          @told = true
          yield piece
        end
        drop(from)
      end

      private

      # The objects are those of a list that the first object begins with.
      def enter
        match = LIST.match(@rest) or return
        @at = @lead = match.end(0)
        @within = true
        @depth = 0
        @started = nil
        @quoted = @foreign = false
      end

      # Once for all that was found: the text may be long.
      def drop(size)
        return if size.zero?

        @rest = @rest.byteslice(size..)
        @at -= size
        @lead = 0
        @started -= size if @started
      end

      # Each byte is looked at once, however the text comes.
      # @return [Integer, nil] where the next object ends
      def object_end(scanner)
        scanner.pos = @at
        until @over || scanner.eos?
          step(scanner)
          # A backslash whose sign has not come yet
          break if @at == scanner.pos

          @at = scanner.pos
          return @at if @started && @depth.zero?
        end
        nil
      end

      def step(scanner)
        if @quoted
          nil while scanner.skip(WITHIN_STRING)
          @quoted = false if scanner.skip(QUOTE)
        elsif @started
          scanner.skip(PLAIN) || sign(scanner.getch)
        else
          scanner.skip(BETWEEN) || (scanner.skip(PLAIN) && @foreign = true) || sign(scanner.getch)
        end
      end

      # Lists within an object are a part of it.
      def sign(char)
        case char
        when '"'
          @quoted = true
          @foreign = true unless @started
        when "{"
          @started ||= @at
          @depth += 1
        when "}" then @depth.positive? ? @depth -= 1 : @foreign = true
        when "]" then @over = true if @within && @depth.zero?
        end
      end
    end
  end
end
