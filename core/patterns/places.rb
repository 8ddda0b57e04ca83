# frozen_string_literal: true

require "re2"

module Northdrift
  module Patterns
    # What stands in the open places of a pattern's messages.
    class Places
      # @return [Integer] how many there are
      attr_reader :size

      # @param text [String] of the pattern, with {Mask::OPEN} for its open places
      def initialize(text)
        parts = text.split(Mask::OPEN, -1)
        @size = parts.size - 1
        fixed = parts.map { |part| RE2::Regexp.escape(part).gsub(/(?:\\?\s)+/, "\\s+") }
        @regex = RE2::Regexp.new("(?s)^\\s*#{fixed.join('(.*?)')}\\s*$", log_errors: false)
      end

      # @param message [String]
      # @return [Array<String>, nil] what stands in each; nil when the message does not fit
      def of(message)
        match = @regex.match(Mask.first_line(message)) or return
        (1..@size).map { |place| match[place] }
      end
    end
  end
end
