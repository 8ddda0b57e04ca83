# frozen_string_literal: true

module Northdrift
  module Reading
    # Cuts a stream of syslog messages (RFC 6587) into messages: with octet counting (section 3.4.1) where a message
    # starts with its length, and up to the end of the line (section 3.4.2) otherwise. Senders may mix both.
    class SyslogFrames
      # The longest message that is taken.
      LIMIT = 1 << 20
      LONGEST_COUNT = 8
      LF = "\n".b.freeze
      ZERO = "0".ord
      NINE = "9".ord
      SPACE = " ".ord
      # What may end a message, or stand between two: LF, CR, NUL.
      ENDINGS = [10, 13, 0].freeze

      # What stands in the stream is no message.
      Invalid = Class.new(Error)

      # @param message [String]
      # @return [String] without what ends it
      def self.trim(message)
        size = message.bytesize
        size -= 1 while size.positive? && ENDINGS.include?(message.getbyte(size - 1))
        size == message.bytesize ? message : message.byteslice(0, size)
      end

      def initialize
        @rest = "".b
      end

      # @param chunk [String] the next bytes
      # @return [Array<String>] messages that are whole now
      # @raise [Invalid] when the rest of the stream cannot be cut; messages before it are in {#last}
      def push(chunk)
        buffer = @rest.empty? ? chunk.b : @rest << chunk
        @found = []
        at = 0
        while at < buffer.bytesize && (stop = frame(buffer, at))
          at = stop
        end
        @rest = buffer.byteslice(at, buffer.bytesize)
        @found
      end

      # @return [Array<String>] messages that were cut before the last {#push} failed
      def last = @found || []

      # @return [Array<String>] what stands behind the last whole message when the stream has ended
      def finish
        @found = []
        add(@rest)
        @rest = "".b
        @found
      end

      private

      # Read digit by digit, and ends looked at byte by byte: this is done for every message.
      # @return [Integer, nil] where the next one starts; nil when this one is not whole
      def frame(buffer, at)
        size = 0
        from = at
        while (byte = buffer.getbyte(from)) && byte >= ZERO && byte <= NINE && from - at < LONGEST_COUNT
          size = (size * 10) + byte - ZERO
          from += 1
        end
        return counted(buffer, from + 1, size) if byte == SPACE && from > at && buffer.getbyte(at) > ZERO

        # Digits alone may still become a count.
        line(buffer, at) unless byte.nil?
      end

      def line(buffer, at)
        stop = buffer.index(LF, at)
        raise Invalid, "a message is longer than #{LIMIT} bytes" if (stop || buffer.bytesize) - at > LIMIT
        return unless stop

        add(buffer.byteslice(at, stop - at))
        stop + 1
      end

      def counted(buffer, from, size)
        raise Invalid, "a message is said to be #{size} bytes long; #{LIMIT} are the most" if size > LIMIT
        return if buffer.bytesize - from < size

        add(buffer.byteslice(from, size))
        from + size
      end

      def add(text)
        text = SyslogFrames.trim(text)
        @found << text unless text.empty?
      end
    end
  end
end
