# frozen_string_literal: true

module Northdrift
  module Find
    # How text is split into words: runs of letters, digits and underscores, as `grep -w` has it. Everything else
    # separates. The full-text index splits in the same way (its `unicode61` with `_` added).
    module Words
      # Marks (accents written as characters of their own) go on with the word they stand in.
      TOKEN = /[\p{L}\p{N}_][\p{L}\p{N}_\p{Mn}]*/
      INSIDE = "[\\p{L}\\p{N}_]"

      module_function

      # @param text [String] UTF-8
      # @return [Array<String>] in order, in lower case
      def tokens(text) = text.scan(TOKEN).map!(&:downcase)

      LAST = :northdrift_words

      # As {tokens}, where many ask for those of the same text one after the other.
      # @param text [String] that is not changed meanwhile
      # @return [Array<String>] not to be changed
      def tokens_once(text)
        last, tokens = Thread.current[LAST]
        return tokens if text.equal?(last)

        tokens(text).tap { |found| Thread.current[LAST] = [text, found] }
      end

      # @param word [String]
      # @return [Boolean] whether it is nothing but one token
      def plain?(word) = word.match?(/\A#{TOKEN}\z/o)

      # Scripts that put no blanks between words (Unicode Standard Annex 29, section 4: their word boundaries need a
      # dictionary).
      UNSPACED = /[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}\p{Lao}\p{Khmer}\p{Myanmar}]/

      # @param word [String] as typed
      # @return [String] RE2 pattern that finds it as it stands, its outer tokens whole
      def standing(word)
        before = word.match?(/\A#{INSIDE}/o) ? "(?:^|[^\\pL\\pN_])" : ""
        after = word.match?(/#{INSIDE}\z/o) ? "(?:[^\\pL\\pN_]|$)" : ""
        "(?is)#{before}#{RE2::Regexp.escape(word)}#{after}"
      end
    end
  end
end
