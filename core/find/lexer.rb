# frozen_string_literal: true

require "strscan"

module Northdrift
  module Find
    # Cuts a find text into tokens. What is typed stands as it is where possible: an operator counts as one only after a
    # field's name, so that `->`, `/a?b=c` and `<34>` are words.
    class Lexer
      # @!attribute type [Symbol] :word, :field (a name in quotes), :quoted, :regex, :operator, :open, :close, :comma,
      #   :end
      # @!attribute text [String]
      # @!attribute column [Integer] from 1
      # @!attribute length [Integer] characters as typed
      Token = Struct.new(:type, :text, :column, :length) do
        def keyword?(word) = type == :word && text.casecmp?(word)
      end

      FIELD = %r{[A-Za-z_@](?:[\w.@/-]*\w)?}
      OPERATOR = /!=|<=|>=|!~|[=<>~]/
      FIELD_THEN_OPERATOR = /(#{FIELD})(?=\s*(?:#{OPERATOR}))/
      QUOTED = /"(?:[^"\\]|\\.)*"/m
      # Programs give fields any name: one in quotes is what stands before an operator or a list.
      QUOTED_FIELD = /#{QUOTED}(?=\s*(?:#{OPERATOR}|in\s*\())/i
      # After a field name that stands alone an operator needs no space, but "a -> b" and "x =" at the end need a look.
      WORD = /[^\s()"]+/
      VALUE = /[^\s(),"]+/

      # @param text [String] with its quotes
      # @return [String]
      def self.unquote(text) = text[1..-2].gsub(/\\(["\\])/, '\1')

      # @param text [String]
      def initialize(text)
        @scanner = StringScanner.new(text)
        @tokens = []
      end

      # @return [Array<Token>] ends with a token of type :end
      # @raise [Mistake] on a quotation or regular expression that is not closed
      def tokens
        token until @scanner.skip(/\s*/) && @scanner.eos?
        add(:end, "", @scanner.charpos)
        @tokens
      end

      private

      def token
        start = @scanner.charpos
        if @scanner.skip("(") then add(:open, "(", start)
        elsif @scanner.skip(")") then add(:close, ")", start)
        elsif (name = @scanner.scan(QUOTED_FIELD)) then named(Lexer.unquote(name), start)
        elsif @scanner.check('"') then quoted(start)
        elsif (name = @scanner.scan(FIELD_THEN_OPERATOR)) then comparison(name, start)
        else add(:word, @scanner.scan(WORD), start)
        end
      end

      def named(name, start)
        add(:field, name, start)
        compared if @scanner.check(/\s*#{OPERATOR}/o)
      end

      def comparison(name, start)
        add(:word, name, start)
        compared
      end

      def compared
        @scanner.skip(/\s*/)
        start = @scanner.charpos
        operator = add(:operator, @scanner.scan(OPERATOR), start).text
        @scanner.skip(/\s*/)
        start = @scanner.charpos
        if operator.end_with?("~") && @scanner.check("/") then regex(start)
        elsif @scanner.check('"') then quoted(start)
        elsif (value = @scanner.scan(VALUE)) then add(:word, value, start)
        end
      end

      def quoted(start)
        text = @scanner.scan(QUOTED)
        raise Mistake.new('the quotation opened here is not closed with "', column: start + 1) unless text

        add(:quoted, Lexer.unquote(text), start)
      end

      def regex(start)
        text = @scanner.scan(%r{/(?:[^/\\]|\\.)*/}m)
        raise Mistake.new("the regular expression opened here is not closed with /", column: start + 1) unless text

        add(:regex, text[1..-2].gsub("\\/", "/"), start)
      end

      def add(type, text, start)
        Token.new(type, text, start + 1, @scanner.charpos - start).tap { |token| @tokens << token }
      end
    end
  end
end
