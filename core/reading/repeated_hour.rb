# frozen_string_literal: true

module Northdrift
  module Reading
    # When clocks are put back, one hour comes twice, and a stamp without a zone may be of either. The order of a
    # source's records tells: who jumps back is in the second. Where it does not tell, the first is taken and the record
    # says so.
    class RepeatedHour
      # Records may be out of order by less than this.
      BACK_US = 5 * 60 * Clock::SECOND
      # A source that was silent for longer may have been so through the whole of the first.
      SILENT_US = 30 * 60 * Clock::SECOND
      # What is read so soon after it was written was written in the hour of its being read.
      FRESH_US = 10 * 60 * Clock::SECOND
      INFERRED = %i[repeated_hour].freeze

      # @param clock [Clock]
      def initialize(clock)
        @clock = clock
      end

      # @param event [Event] with the first of the two times; gets the second, or is marked
      # @param before_us [Integer, nil] time of the record before it
      def place(event, before_us)
        return unless event.stamped && event.inferred.include?(:zone) && (gap_us = @clock.repeated(event.time_us))

        case hour(event.time_us, gap_us, before_us)
        when :second then event.time_us += gap_us
        when nil then event.inferred |= INFERRED
        end
      end

      private

      # @return [Symbol, nil] :first, :second, or nil where nothing tells it
      def hour(time_us, gap_us, before_us)
        return :second if before_us && time_us < before_us - BACK_US
        return :first if before_us && time_us - before_us < SILENT_US
        return :first if time_us + gap_us > @clock.reference_us + (FRESH_US / 10)

        :second if @clock.reference_us - (time_us + gap_us) < FRESH_US
      end
    end
  end
end
