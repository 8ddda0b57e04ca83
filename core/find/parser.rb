# frozen_string_literal: true

require "did_you_mean"
require "re2"

module Northdrift
  module Find
    # Reads a find text into a {Tree}. Precedence: `not`, then `and` (which a space implies), then `or`.
    class Parser
      PATTERN = /\Ap\d{1,18}\z/i
      COMPARISONS = { "=" => :==, "!=" => :==, "<" => :<, "<=" => :<=, ">" => :>, ">=" => :>= }.freeze
      ENDS = %i[end close].freeze
      VALUES = %i[word quoted].freeze
      DEEPEST = 100
      # A word of a script without blanks, which may go on.
      UNSPACED = /\A(?=[^*]+\*?\z).*#{Words::UNSPACED}/m

      # @param text [String] the find text
      # @param known [#call, nil] gives the field names that exist, for checking; nil leaves names unchecked
      # @return [Object] a node of {Tree}
      # @raise [Mistake]
      def self.parse(text, known: nil) = new(text, known: known).tree

      def initialize(text, known: nil)
        @text = Text.utf8(text)
        @known = known
        @depth = 0
      end

      # @return [Object] a node of {Tree}
      def tree
        @tokens = Lexer.new(@text).tokens
        @at = 0
        return Tree::Everything if peek.type == :end

        node = any
        case peek.type
        when :end then node
        when :close then mistake("there is no ( that this ) closes")
        else mistake("“#{peek.text}” is not expected here")
        end
      end

      private

      def any
        nodes = [all]
        nodes << all while take_keyword("or")
        Tree.any(nodes)
      end

      def all
        nodes = [negation]
        nodes << negation until !take_keyword("and") && (ENDS.include?(peek.type) || peek.keyword?("or"))
        Tree.all(nodes)
      end

      def negation
        return Tree::Not.new(deeper { negation }) if take_keyword("not")

        primary
      end

      def primary
        token = advance
        case token.type
        when :open then group(token)
        when :quoted then Tree::Phrase.new(token.text)
        when :field then condition(token)
        when :word then peek.type == :operator || in_list? ? condition(token) : word(token)
        when :end then mistake("a condition is missing here", token)
        when :close then mistake("a condition is missing before )", token)
        else mistake("“#{token.text}” is not expected here", token)
        end
      end

      def group(opening)
        node = deeper { any }
        mistake("the ( opened here is not closed", opening) unless peek.type == :close

        advance
        node
      end

      def deeper
        @depth += 1
        mistake("nested more than #{DEEPEST} deep") if @depth > DEEPEST
        yield
      ensure
        @depth -= 1
      end

      def word(token)
        if %w[and or].include?(token.text.downcase)
          mistake("“#{token.text}” needs a condition before it; to find the word, put it in quotes", token)
        end
        if token.keyword?("has") &&
           (peek.type == :quoted || (peek.type == :word && peek.text.match?(/\A#{Lexer::FIELD}\z/o)))
          return has(token)
        end

        text = token.text
        return Tree::Everything if text.delete("*").empty? && !text.empty?
        return Tree::Contains.new(text.delete_suffix("*")) if UNSPACED.match?(text)
        return Tree::Word.new(text) unless text.include?("*")

        case text
        when /\A\*([^*]+)\*\z/ then Tree::Contains.new(Regexp.last_match(1))
        when /\A([^*]+)\*\z/ then prefix(Regexp.last_match(1))
        else Tree::Glob.new(text)
        end
      end

      # A prefix that ends in a separator has no token that could go on.
      def prefix(text) = Words.tokens(text[-1]).empty? ? Tree::Glob.new("#{text}*") : Tree::Prefix.new(text)

      def has(_keyword)
        field = advance
        Tree::Has.new(field_name(field))
      end

      def in_list? = peek.keyword?("in") && @tokens[@at + 1]&.type == :open

      def condition(field_token)
        field = field_name(field_token)
        operator = advance
        return list(field, operator) if operator.keyword?("in")

        value = advance
        unless %i[word quoted regex].include?(value.type)
          mistake("a value is missing after #{operator.text}", value.type == :end ? operator : value)
        end
        comparison(field, operator, value)
      end

      def comparison(field, operator, value)
        case operator.text
        when "~", "!~"
          node = Tree::Matches.new(field, checked_regex(value))
          operator.text == "~" ? node : Tree::Not.new(node)
        when "=", "!="
          node = equal(field, value)
          operator.text == "=" ? node : Tree::Not.new(node)
        else order(field, operator, value)
        end
      end

      def equal(field, value)
        return severities(value) { |code, wanted| code == wanted } if field == "severity"

        if field == "pattern" && !value.text.match?(PATTERN)
          mistake("a pattern goes by its number, like P12; “#{value.text}” is none", value)
        end
        Tree::Compare.new(field, value.type == :quoted ? :exactly : :==, value.text)
      end

      def order(field, operator, value)
        sign = COMPARISONS.fetch(operator.text)
        mistake("a pattern can be equal (=) or not (!=), not #{operator.text}", operator) if field == "pattern"
        if field == "severity"
          # "That bad or worse": worse is a lower number. Unset is neither better nor worse.
          return severities(value) { |code, wanted| code != Severity::UNSET && wanted.public_send(sign, code) }
        end

        unless Quantity.parse(value.text)
          mistake(
            "#{operator.text} compares numbers, and “#{value.text}” is none (units like ms, s, KB, MB may follow one)",
            value
          )
        end
        Tree::Compare.new(field, sign, value.text)
      end

      def severities(value)
        wanted = Severity.from_word(value.text) || (value.text.match?(/\A[0-7]\z/) ? value.text.to_i : nil)
        unless wanted
          near = DidYouMean::SpellChecker.new(dictionary: Severity::NAMES).correct(value.text).first
          mistake(
            "there is no severity “#{value.text}”; they are #{Severity::NAMES.join(', ')}", value, suggestion: near
          )
        end
        Tree::Severities.new((0..8).select { |code| yield code, wanted })
      end

      def list(field, _keyword)
        opening = advance
        nodes = []
        loop do
          value = advance
          next if value.type == :comma
          break if value.type == :close && nodes.any?

          unless VALUES.include?(value.type)
            mistake(
              value.type == :end ? "the ( opened here is not closed" : "a value is missing here",
              value.type == :end ? opening : value
            )
          end
          list_values(value).each { |part| nodes << equal(field, part) }
        end
        Tree.any(nodes)
      end

      # "ida," and "ida,root" come as one word.
      def list_values(token)
        return [token] if token.type == :quoted

        token.text.split(",").reject(&:empty?).map { |text| Lexer::Token.new(:word, text, token.column, token.length) }
      end

      def checked_regex(token)
        regex = RE2::Regexp.new(token.text, log_errors: false)
        return token.text if regex.ok?

        mistake("this regular expression cannot be read: #{regex.error}", token)
      end

      def field_name(token)
        return token.text if @known.nil? || FieldNames::BUILT_IN.include?(token.text)

        name, near = FieldNames.find(token.text, @known.call)
        name || mistake(FieldNames.unknown(token.text, near), token, suggestion: near)
      end

      def peek = @tokens[@at]
      def advance = @tokens[@at].tap { @at += 1 if @at < @tokens.size - 1 }

      def take_keyword(word)
        return false unless peek.keyword?(word)

        advance
        true
      end

      def mistake(message, token = peek, suggestion: nil)
        raise Mistake.new(message, column: token.column, length: token.length, suggestion: suggestion)
      end
    end
  end
end
