# frozen_string_literal: true

module Northdrift
  module Store
    # The text of an event as the full-text index gets it, and the marks that stand in it beside the words: private-use
    # characters are token characters of `unicode61`, and no text from outside keeps them.
    module IndexText
      GAP = " \u{E000} "
      KIND = "\u{E001}"
      SEVERITY = "\u{E002}"
      RESERVED = /[\u{E000}-\u{E00F}]/
      # Only bad severities are marked: the many harmless lines are found by the bits of their id.
      MARKED = (0..Severity::WARNING)

      module_function

      # @param body [String] bytes
      # @param extra [String, nil] bytes
      # @return [String] UTF-8; what the index gets of an event beside its marks
      def of(body, extra) = extra ? "#{clean(body)}#{GAP}#{clean(extra)}" : clean(body)

      # @param bytes [String]
      # @return [String] valid UTF-8 without marks; bytes that are no UTF-8 separate words
      def clean(bytes)
        text = bytes.dup.force_encoding(Encoding::UTF_8)
        text = text.scrub("\u{FFFD}") unless text.valid_encoding?
        text.match?(RESERVED) ? text.gsub(RESERVED, " ") : text
      end
    end
  end
end
