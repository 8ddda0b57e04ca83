# frozen_string_literal: true

module Northdrift
  module Find
    # Words with open places (`err*code`, `*_total`): whole tokens at the ends that are not open.
    module Globs
      module_function

      # @param text [String] a word with `*` in it
      # @return [String] RE2 pattern
      def pattern(text)
        parts = text.split("*", -1)
        before = parts.first.match?(/\A#{Words::INSIDE}/o) ? "(?:^|[^\\pL\\pN_])" : ""
        after = parts.last.match?(/#{Words::INSIDE}\z/o) ? "(?:[^\\pL\\pN_]|$)" : ""
        "(?is)#{before}#{parts.map { |part| RE2::Regexp.escape(part) }.join('\S*')}#{after}"
      end
    end
  end
end
