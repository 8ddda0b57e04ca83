# frozen_string_literal: true

require "openssl"

module Northdrift
  module Intake
    module Live
      # A followed file: reads what is added to it. It stays with the file when that is renamed, and says when it was
      # cut.
      class FollowedFile
        CHUNK = 1 << 18
        CHUNKS_AT_ONCE = 8
        # So many of the first bytes, and of those that were read last, tell whether it is still the same.
        HEAD = 256

        # @return [String] under which it is followed
        attr_accessor :path
        # @return [String] see {identity}
        attr_reader :identity

        # @param file [File] at its start
        # @param known [Known::Entry, nil] what of it has been read
        # @param digest [OpenSSL::Digest] of the bytes up to there
        # @param stream [Stream]
        # @param context [Reading::Context]
        def initialize(file, path, stream, known:, digest:, context:, funnel:)
          @file = file
          @path = path
          @identity = FollowedFile.identity(file.stat)
          @sent = known&.bytes || 0
          @digest = digest
          @stream = stream
          start = file.pread([@sent, Reading::Header::REACH].min, 0) if @sent.positive?
          @stream.header = Reading::Header.last(start, first: true) if start
          @funnel = funnel
          @buffer = RecordBuffer.new(context)
          @head = @file.pread([HEAD, @file.size].min, 0)
          @last = last_of(@sent)
          @file.seek(@sent)
          @grown = now
        end

        # @param stat [File::Stat]
        # @return [String] device and inode, by which a file is known whatever it is called
        def self.identity(stat) = "#{stat.dev}:#{stat.ino}"

        # Reads what has been added, and hands on the records that are whole.
        # @return [Boolean] whether there is more to read at once
        def read
          return false if cut? # since it was looked at

          chunks = 0
          while chunks < CHUNKS_AT_ONCE && (bytes = @file.read(CHUNK))
            @buffer.push(bytes)
            @last = (@last + bytes).then { |all| all.byteslice([all.bytesize - HEAD, 0].max, HEAD) }
            @grown = now
            chunks += 1
            hand_on(@buffer.take)
          end
          hand_on(@buffer.take)
          look_at_head if @head.bytesize < HEAD && chunks.positive?
          chunks == CHUNKS_AT_ONCE
        end

        # @return [Boolean] whether it was cut short and begun anew: shorter than what was read of it, or with another
        #   start, or with other bytes where reading goes on
        def cut?
          place = @sent + @buffer.size
          @file.size < place || @file.pread(@head.bytesize, 0) != @head || last_of(place) != @last
        rescue EOFError
          true # at this moment
        end

        # @param head [String] the first bytes of another file
        # @param size [Integer] of that
        # @return [Boolean] whether this one starts so too, and has as much or more
        def as_long?(head, size) = @file.size >= size && @file.pread(head.bytesize, 0) == head

        # @return [Float] seconds since something came
        def quiet = now - @grown

        # @return [Boolean] whether nothing has come for longer than that
        def quiet?(seconds) = quiet > seconds

        # @return [Integer] bytes of the file as it is now
        def size = @file.size

        # Hands on all that is left.
        def finish
          nil while read
          abandon
        end

        # Hands on what was read, whatever has become of the file.
        def abandon
          hand_on(@buffer.take(ended: true))
          close
        end

        def close = @file.close

        private

        # @return [String] the bytes before a place
        def last_of(place)
          size = [place, HEAD].min
          size.zero? ? "".b : @file.pread(size, place - size)
        end

        # A file that was short when it was opened is told by more of it once there is more, as long as it is the same
        # file.
        def look_at_head
          head = @file.pread([HEAD, @file.size].min, 0)
          @head = head if head.start_with?(@head)
        end

        def hand_on(text)
          return unless text

          from = @sent
          @sent += text.bytesize
          @digest << text
          place = Place.new(from, @sent, @digest.dup.hexdigest, fingerprint, @identity)
          @funnel.text(@stream, text, place: place, patient: true)
          header = Reading::Header.last(text, first: from.zero?) or return
          # What waits in the funnel keeps the stream that it came with.
          @stream = @stream.dup.tap { |stream| stream.header = header }
        end

        # Of so much as there is, until there is enough.
        def fingerprint
          return @fingerprint if @fingerprint && @fingerprinted >= Known::HEAD

          @fingerprinted = [@sent, Known::HEAD].min
          @fingerprint = Known.fingerprint(@file.pread(@fingerprinted, 0))
        end

        def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      end
    end
  end
end
