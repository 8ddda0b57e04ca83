# frozen_string_literal: true

module Northdrift
  # Waiting for what comes in its time. One deadline for all: far above what a slow machine needs, and stretched by
  # NORTHDRIFT_PATIENCE on one that is slower still.
  module Waiting
    PATIENCE = Float(ENV.fetch("NORTHDRIFT_PATIENCE", "1"))
    DEADLINE = 90 * PATIENCE
    PAUSE = 0.05

    # @param what [String, nil] what is waited for; without it the line that waits is told
    # @yieldreturn [Object, nil] something, once it is so
    # @return [Object] that
    def eventually(what = nil, seconds: DEADLINE)
      asked = caller_locations(1, 1).first
      ends = monotonic + seconds
      until (found = yield)
        flunk "#{what || line_of(asked)} did not come in #{seconds.round} s#{situation}" if monotonic > ends
        sleep PAUSE
      end
      found
    end

    # What is repeated until it is over; ends by itself when that takes too long.
    # @yield so often
    def meanwhile(over, what, seconds: DEADLINE)
      ends = monotonic + seconds
      until over.call
        flunk "#{what} is still not over after #{seconds.round} s#{situation}" if monotonic > ends
        yield
      end
    end

    # @return [String] what may explain that something did not come
    def situation = ""

    def monotonic = Process.clock_gettime(Process::CLOCK_MONOTONIC)

    private

    def line_of(location)
      text = File.readlines(location.absolute_path)[location.lineno - 1].to_s.strip
      "#{File.basename(location.path)}:#{location.lineno} `#{text}`"
    end
  end
end
