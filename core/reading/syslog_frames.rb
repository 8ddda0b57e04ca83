# frozen_string_literal: true

module Northdrift
  module Reading
    # Cuts a stream of syslog messages (RFC 6587) into messages: with octet counting (section 3.4.1) where a message starts
    # with its length, and up to the end of the line (section 3.4.2) otherwise. Senders may mix both.
    class SyslogFrames
      # The longest message that is taken.
      LIMIT = 1 << 20
      LONGEST_COUNT = 8
      LF = "\n".b.freeze
      COUNT = /\G([1-9]\d{0,7}) /
      DIGITS = (48..57)
      DIGITS_ONLY = /\G\d+\z/
      ENDINGS = /[\r\n\0]+\z/

      # What stands in the stream is no message.
      Invalid = Class.new(Error)

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
        text = @rest.sub(ENDINGS, "")
        @rest = "".b
        text.empty? ? [] : [text]
      end

      private

      # @return [Integer, nil] where the next one starts; nil when this one is not whole
      def frame(buffer, at)
        return line(buffer, at) unless DIGITS.cover?(buffer.getbyte(at))

        match = COUNT.match(buffer, at)
        return counted(buffer, match) if match

        # It may still become a count, or it is a line that starts with a digit.
        line(buffer, at) unless buffer.bytesize - at <= LONGEST_COUNT && buffer.match?(DIGITS_ONLY, at)
      end

      def line(buffer, at)
        stop = buffer.index(LF, at)
        raise Invalid, "a message is longer than #{LIMIT} bytes" if (stop || buffer.bytesize) - at > LIMIT
        return unless stop

        add(buffer.byteslice(at, stop - at))
        stop + 1
      end

      def counted(buffer, match)
        size = match[1].to_i
        raise Invalid, "a message is said to be #{size} bytes long; #{LIMIT} are the most" if size > LIMIT

        from = match.end(0)
        return if buffer.bytesize - from < size

        add(buffer.byteslice(from, size))
        from + size
      end

      def add(text)
        text = text.sub(ENDINGS, "") if ENDINGS.match?(text)
        @found << text unless text.empty?
      end
    end
  end
end
