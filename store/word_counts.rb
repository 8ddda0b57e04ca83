# frozen_string_literal: true

module Northdrift
  module Store
    # Counts events by the words of their text. A word is a token as the find language splits text; names of fields, and
    # words that every log has, are left out.
    class WordCounts
      # Cutting by characters is five times quicker than matching tokens, and most lines are ASCII.
      BETWEEN = "^A-Za-z0-9_"
      TOKENS = /[[:alnum:]_]+/
      NINE = "9".ord

      # @param access [Access] the rows
      # @param kinds [Kinds]
      def initialize(access, kinds)
        @access = access
        @kinds = kinds
      end

      # @return [Array(Integer, Hash{String=>Integer})] events, and events by word in lower case
      def count
        lines = 0
        tokens = {}
        Scan.each(@access, "events.body, events.extra") do |body, extra|
          lines += 1
          found = tokens(extra ? IndexText.of(body, extra) : body)
          found.uniq!
          found.tally(tokens)
        end
        [lines, words(tokens)]
      end

      private

      def tokens(text) = text.ascii_only? ? text.downcase.tr(BETWEEN, " ").split : Text.utf8(text).downcase.scan(TOKENS)

      def words(tokens)
        names = @kinds.field_names
        # Most different tokens are numbers; what starts with a digit is soon told.
        tokens.select { |token, _| token.getbyte(0) > NINE && Words::Common.telling?(token) && !names.include?(token) }
      end
    end
  end
end
