# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # Bytes of a stream that grows, given out in whole records: the last one may go on, so it waits for the next to
      # start or for a moment's quiet.
      class RecordBuffer
        QUIET_SECONDS = 0.3
        # A line without its end waits so long for it.
        PATIENCE_SECONDS = 30
        # So much is given out even where no record seems to start.
        LARGE = 4 << 20

        # @param context [Reading::Context]
        def initialize(context, clock: -> { Process.clock_gettime(Process::CLOCK_MONOTONIC) })
          @context = context
          @clock = clock
          @buffer = "".b
          @grown = clock.call
        end

        # @param bytes [String]
        def push(bytes)
          @buffer << bytes
          @grown = @clock.call
        end

        # @return [Integer] bytes that wait
        def size = @buffer.bytesize

        # @param ended [Boolean] whether no more comes
        # @return [String, nil] what can be read now
        def take(ended: false)
          size = ended ? @buffer.bytesize : ready
          @buffer.slice!(0, size) if size&.positive?
        end

        private

        def ready
          return if @buffer.empty?

          quiet = @clock.call - @grown
          return @buffer.bytesize if quiet >= PATIENCE_SECONDS

          stop = @buffer.rindex(Reading::Openings::LF)
          return if stop.nil? && @buffer.bytesize < LARGE
          return (stop || (@buffer.bytesize - 1)) + 1 if quiet >= QUIET_SECONDS || @buffer.bytesize >= LARGE

          Reading::Openings.last(@buffer, @context)
        end
      end
    end
  end
end
