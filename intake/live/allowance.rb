# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # How many lines a sender may send: so many a second in the mean, and as many again at once (a token bucket).
      class Allowance
        # @param per_second [Integer]
        # @param clock [#call] seconds
        def initialize(per_second, clock: -> { Process.clock_gettime(Process::CLOCK_MONOTONIC) })
          @per_second = per_second
          @clock = clock
          @left = per_second.to_f
          @at = clock.call
        end

        # For senders that can be slowed: what came is taken, and they wait.
        # @param lines [Integer]
        # @return [Float] seconds to wait
        def owe(lines)
          refill
          @left -= lines
          @left.negative? ? -@left / @per_second : 0.0
        end

        # For senders that cannot.
        # @param lines [Integer]
        # @return [Integer] how many of them are taken
        def take(lines)
          refill
          taken = [lines, [@left.floor, 0].max].min
          @left -= taken
          taken
        end

        private

        def refill
          now = @clock.call
          @left = [@left + ((now - @at) * @per_second), @per_second].min
          @at = now
        end
      end
    end
  end
end
