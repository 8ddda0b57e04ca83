# frozen_string_literal: true

module Northdrift
  module Measure
    # Steps of time that people count in.
    module Steps
      SECOND = 1_000_000
      SIZES =
        [
          0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1200, 1800, 3600, 7200, 10_800,
          21_600, 43_200, 86_400, 2 * 86_400, 7 * 86_400, 14 * 86_400, 28 * 86_400, 91 * 86_400, 364 * 86_400
        ].map { |seconds| (seconds * SECOND).round }.freeze

      WEEK = 7 * 86_400 * SECOND
      # Weeks start on Monday (ISO 8601-1:2019, 3.1.1.23); 1 January 1970 was three days later in its week.
      MONDAY = 3 * 86_400 * SECOND

      module_function

      # @param from_us [Integer]
      # @param to_us [Integer]
      # @param most [Integer] steps
      # @return [Integer] size in microseconds of the finest steps of which no more than `most` cover the window
      def size(from_us, to_us, most)
        SIZES.find { |size| (to_us - from_us).fdiv(size) <= most - 1 } || SIZES.last
      end

      # @param utc_offset [Integer] seconds by which the day of the reader is ahead of UTC
      # @return [Integer] where the step that holds a moment starts
      def start(moment_us, size, utc_offset: 0)
        shift = size >= 3600 * SECOND ? utc_offset * SECOND : 0
        shift += MONDAY if (size % WEEK).zero?
        ((moment_us + shift) / size * size) - shift
      end
    end
  end
end
