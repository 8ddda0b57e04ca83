# frozen_string_literal: true

module Northdrift
  module Intake
    # Reads text that starts with a byte order mark as UTF-8 bytes, without the mark.
    class Decoder
      UNREADABLE = %i[invalid_byte_sequence undefined_conversion incomplete_input].freeze

      # @param input [#read] at its start
      # @param mark [String] the byte order mark
      # @param encoding [Encoding]
      def initialize(input, mark, encoding)
        @input = input
        @input.read(mark.bytesize)
        @converter = Encoding::Converter.new(encoding, Encoding::UTF_8) unless encoding == Encoding::UTF_8
      end

      # @return [String, nil] some bytes, not always so many as asked for
      def read(size)
        loop do
          chunk = @input.read(size)
          text = @converter ? convert(chunk) : chunk
          return text if text.nil? || !text.empty?
        end
      end

      private

      # What is no character in the source's encoding becomes U+FFFD.
      def convert(chunk)
        return if chunk.nil? && @ended

        @ended = chunk.nil?
        text = +""
        input = chunk || +""
        loop do
          result = @converter.primitive_convert(input, text, nil, nil, partial_input: !@ended)
          break unless UNREADABLE.include?(result)

          text << "\u{FFFD}"
        end
        @ended && text.empty? ? nil : text.b
      end
    end
  end
end
