# frozen_string_literal: true

module Northdrift
  module Watch
    # How many alerts a {Count} would raise at many levels: for each line it is counted once how many there were within
    # so long before it, and each level looks at that alone.
    class CountCurve
      # @param times [Array<Integer>] of the lines of one key, in order
      # @param within_us [Integer]
      # @param quiet_us [Integer] see {Span}
      # @yieldparam at_us [Integer] a moment
      # @yieldreturn [Boolean] whether it is watched then
      def initialize(times, within_us, quiet_us)
        @quiet_us = quiet_us
        first = 0
        @moments = times.each_with_index.filter_map do |time_us, at|
          first += 1 while times[first] <= time_us - within_us
          [time_us, at - first + 1] if yield(time_us)
        end
      end

      # @param least [Integer]
      # @return [Integer] alerts
      def alerts(least)
        last_us = nil
        @moments.count do |time_us, lines|
          next false if lines < least

          fresh = last_us.nil? || time_us - last_us >= @quiet_us
          last_us = time_us
          fresh
        end
      end
    end
  end
end
