# frozen_string_literal: true

module Northdrift
  module Store
    # What time it is, for all processes of the house. A test or a drill has it run ahead of the machine's by the
    # seconds in NORTHDRIFT_CLOCK_AHEAD (behind, where they are negative). What belongs to the machine itself keeps to
    # the machine's clock: ages of files, certificates, pauses.
    module Clock
      VARIABLE = "NORTHDRIFT_CLOCK_AHEAD"

      given = ENV.fetch(VARIABLE, "0")
      seconds = Float(given, exception: false) or
        raise Error, "#{VARIABLE} is “#{Text.display(given)}”; it must be a number of seconds"
      @ahead_us = (seconds * 1_000_000).round

      module_function

      # @return [Integer] microseconds since 1970, UTC
      def now_us = Process.clock_gettime(Process::CLOCK_REALTIME, :microsecond) + Clock.ahead_us

      # @return [Time] UTC
      def now = Time.at(0, now_us, :microsecond, in: "UTC")

      class << self
        # @return [Integer] microseconds by which it is ahead of the machine's clock
        attr_reader :ahead_us

        # Has it stand at a moment now, and go on from there, here and in processes that are started from here.
        # @param moment [Time]
        # @return [Float] seconds by which it is ahead from now on
        def turn(moment)
          ahead = moment.to_f - Process.clock_gettime(Process::CLOCK_REALTIME)
          @ahead_us = (ahead * 1_000_000).round
          ENV[VARIABLE] = ahead.to_s
          ahead
        end
      end
    end
  end
end
