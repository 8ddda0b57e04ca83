# frozen_string_literal: true

require "re2"

module Northdrift
  module Find
    # Says of one event whether a find text is true of it: the meaning of the find language in plain Ruby. The database
    # answers the same questions with its indexes, and asks this where an index cannot tell.
    class Matcher
      # What a matcher looks at. All texts are UTF-8.
      # @!attribute text [String] the record without its leading stamp, and values that are written otherwise in it
      # @!attribute raw [#call] the whole record
      # @!attribute fields [#call] hash of fields by name, with the built-in ones but for severity, message and text
      Subject = Struct.new(:severity, :text, :machine, :service, :message, :raw, :fields)

      # @param tree [Object] a node of {Tree}
      def initialize(tree)
        @test = compile(tree)
      end

      # @param subject [Subject]
      # @return [Boolean]
      def match?(subject) = @test.call(subject)

      private

      def compile(node)
        case node
        when Tree::All then tests = node.children.map { |child| compile(child) }
                            ->(subject) { tests.all? { |test| test.call(subject) } }
        when Tree::Any then tests = node.children.map { |child| compile(child) }
                            ->(subject) { tests.any? { |test| test.call(subject) } }
        when Tree::Not then test = compile(node.child)
                            ->(subject) { !test.call(subject) }
        when Tree::Severities then codes = node.codes
                                   ->(subject) { codes.include?(subject.severity) }
        when Tree::Has then has(node.field)
        when Tree::Compare then on_field(node.field, Values.test(node.field, node.operator, node.value))
        when Tree::Matches then matches(node)
        when Tree::Everything then ->(_) { true }
        else textual(node)
        end
      end

      def textual(node)
        test = case node
        when Tree::Word then word(node.text)
        when Tree::Phrase then phrase(Words.tokens(node.text))
        when Tree::Prefix then prefix(node.text)
        when Tree::Contains then contains(node.text)
        when Tree::Glob then regex(Globs.pattern(node.text))
        end
        lambda do |subject|
          test.call(subject.text) || (subject.machine && test.call(subject.machine)) ||
            (subject.service && test.call(subject.service)) || false
        end
      end

      def word(text)
        return phrase(Words.tokens(text)) if Words.plain?(text)

        regex(Words.standing(text))
      end

      def phrase(tokens)
        return ->(_) { true } if tokens.empty?

        longest = tokens.max_by(&:size)
        lambda do |text|
          may_have?(text, longest) && sequence?(Words.tokens_once(text), tokens) { |have, want| have == want }
        end
      end

      def prefix(text)
        tokens = Words.tokens(text)
        last = tokens.size - 1
        standing = Words.plain?(text) ? nil : RE2::Regexp.new(Globs.pattern("#{text}*"))
        lambda do |subject|
          next false if standing && !standing.match?(subject)

          sequence?(Words.tokens_once(subject), tokens) do |have, want, index|
            index == last ? have.start_with?(want) : have == want
          end
        end
      end

      # Splitting into words costs much more than finding that one of them is nowhere. Beyond ASCII, small letters may
      # depend on what stands beside them.
      def may_have?(text, token) = !text.ascii_only? || text.downcase.include?(token)

      def sequence?(have, want)
        (0..have.size - want.size).any? do |at|
          want.each_with_index.all? { |token, index| yield have[at + index], token, index }
        end
      end

      def contains(text)
        wanted = text.downcase
        ->(subject) { subject.downcase.include?(wanted) }
      end

      def regex(pattern)
        compiled = RE2::Regexp.new(pattern, log_errors: false)
        ->(text) { compiled.match?(text) }
      end

      def matches(node)
        test = regex(node.pattern)
        case node.field
        when "message" then ->(subject) { test.call(subject.message) }
        when "text" then ->(subject) { test.call(subject.raw.call) }
        when "severity" then ->(subject) { test.call(Severity.name(subject.severity)) }
        else on_field(node.field, ->(value) { test.call(value.to_s) })
        end
      end

      def has(field)
        case field
        when "severity" then ->(subject) { subject.severity != Severity::UNSET }
        when "message", "text" then ->(subject) { !subject.message.empty? }
        else ->(subject) { !subject.fields.call[field].nil? }
        end
      end

      def on_field(field, test)
        case field
        when "message"
          ->(subject) { test.call(subject.message) }
        when "text"
          ->(subject) { test.call(subject.raw.call) }
        when "host.name" then on_name(field, test, :machine)
        when "service.name" then on_name(field, test, :service)
        when "source"
          lambda do |subject|
            (name = subject.fields.call["source"]) && (test.call(name) || test.call(File.basename(name))) || false
          end
        else
          lambda do |subject|
            value = subject.fields.call[field]
            !value.nil? && Values.fits?(test, value)
          end
        end
      end

      # Told without all other fields, where it is told at all.
      def on_name(field, test, told)
        lambda do |subject|
          value = subject[told] || subject.fields.call[field]
          !value.nil? && Values.fits?(test, value)
        end
      end
    end
  end
end
