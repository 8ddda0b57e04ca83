# frozen_string_literal: true

require "re2"

module Northdrift
  module Store
    # Counts events by the words of their text. A word is a token as the find language splits text; names of fields, and
    # words that every log has, are left out.
    #
    # Cutting each line into tokens costs more than all the rest. But lines are alike: once numbers and identifiers are
    # taken out, what stands around the message is the same for thousands of lines, and so is the message. Only what
    # differs is cut; a word that stands in both of a line's parts counts once.
    class WordCounts
      # Cutting by characters is five times quicker than matching tokens, and most lines are ASCII.
      BETWEEN = "^A-Za-z0-9_"
      TOKENS = /[[:alnum:]_]+/
      # Tokens that {Words::Common.telling?} refuses: most of what makes one line differ from the next.
      NUMBERS = RE2::Regexp.new("\\b(?:[0-9][0-9A-Za-z_]*|[a-fA-F]+[0-9][0-9a-fA-F]*)\\b", utf8: false)
      # Lines whose parts are remembered before they are cut: a few hundred bytes each at most.
      REMEMBERED = 100_000

      # @param access [Access] the rows
      # @param kinds [Kinds]
      def initialize(access, kinds)
        @access = access
        @names = kinds.field_names
      end

      # @return [Array(Integer, Hash{String=>Integer})] events, and events by word in lower case
      def count
        @words = Hash.new(0)
        @telling = {}
        forget
        lines = 0
        Scan.each(@access, "events.body, events.extra, events.spans") do |body, extra, spans|
          lines += 1
          around, message = extra || !body.ascii_only? ? [IndexText.of(body, extra), ""] : parts(body, spans)
          (@parts[squeezed(around)] ||= Hash.new(0))[squeezed(message)] += 1
          settle if (@held += 1) >= REMEMBERED
        end
        settle
        [lines, @words]
      end

      private

      def forget
        @held = 0
        @parts = {}
        @messages = Hash.new(0).compare_by_identity
        @cut = {}
      end

      # @return [Array(String, String)] what stands around the message, and the message
      def parts(body, spans)
        at, size = spans.unpack(Spans::FIRST)
        tail = at + size
        around = body.byteslice(0, at)
        around << " " << body.byteslice(tail, body.bytesize) if tail < body.bytesize
        [around, body.byteslice(at, size)]
      end

      def squeezed(text) = text.ascii_only? ? RE2.GlobalReplace(text, NUMBERS, "") : text

      def settle
        @parts.each do |around, messages|
          first = cut(around)
          add(first, messages.sum { |_, n| n })
          messages.each do |message, n|
            second = cut(message)
            @messages[second] += n
            add(first & second, -n) if first.intersect?(second)
          end
        end
        @messages.each { |words, n| add(words, n) }
        forget
      end

      def add(words, count) = words.each { |word| @words[word] += count }

      def cut(part) = @cut[part] ||= tokens(part).uniq.select { |token| telling?(token) }

      def telling?(token)
        @telling.fetch(token) { @telling[token] = Words::Common.telling?(token) && !@names.include?(token) }
      end

      def tokens(text) = text.ascii_only? ? text.downcase.tr(BETWEEN, " ").split : Text.utf8(text).downcase.scan(TOKENS)
    end
  end
end
