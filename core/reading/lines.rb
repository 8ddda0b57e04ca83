# frozen_string_literal: true

module Northdrift
  module Reading
    # Cuts a stream of bytes into physical lines and counts them. A line ends with LF or CRLF; one that is longer than
    # {LIMIT} comes in pieces, all but the last with an empty ending.
    class Lines
      LIMIT = 1 << 20
      LF = "\n".b.freeze
      CRLF = "\r\n".b.freeze
      NONE = "".b.freeze

      # @return [Integer] lines seen so far
      attr_reader :number
      # @return [Integer] bytes handed out so far
      attr_reader :offset

      # @param number [Integer] lines before the first
      # @param offset [Integer] bytes before the first
      def initialize(number: 0, offset: 0)
        @number = number
        @offset = offset
        @rest = "".b
        @inside = false
      end

      # @param chunk [String] the next bytes, binary
      # @yieldparam line [String] without its ending
      # @yieldparam ending [String]
      # @yieldparam number [Integer] from 1
      # @yieldparam offset [Integer] from 0
      def push(chunk, &)
        searched = @rest.bytesize
        buffer = @rest.empty? ? chunk : @rest << chunk
        at = 0
        while (stop = buffer.index(LF, [at, searched].max))
          cut(buffer, at, stop, &)
          at = stop + 1
        end
        @rest = at.zero? && buffer.equal?(@rest) ? buffer : buffer.byteslice(at, buffer.bytesize)
        take_piece(&) while @rest.bytesize > LIMIT
      end

      # Hands out what stands after the last line ending.
      def finish(&)
        return if @rest.empty?

        emit(@rest, NONE, last: true, &)
        @rest = "".b
      end

      private

      def cut(buffer, start, stop, &)
        while stop - start > LIMIT
          emit(buffer.byteslice(start, LIMIT), NONE, &)
          start += LIMIT
        end
        if stop > start && buffer.getbyte(stop - 1) == 13
          emit(buffer.byteslice(start, stop - 1 - start), CRLF, &)
        else
          emit(buffer.byteslice(start, stop - start), LF, &)
        end
      end

      def take_piece(&)
        piece = @rest.byteslice(0, LIMIT)
        @rest = @rest.byteslice(LIMIT, @rest.bytesize)
        emit(piece, NONE, &)
      end

      def emit(line, ending, last: false)
        @number += 1 unless @inside
        offset = @offset
        @offset += line.bytesize + ending.bytesize
        inside = @inside
        @inside = ending.empty? && !last
        yield line, ending, @number, offset, inside
      end
    end
  end
end
