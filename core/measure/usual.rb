# frozen_string_literal: true

module Northdrift
  module Measure
    # Whether a count is out of what it usually is: set against the 5th and the 95th of a hundred of the counts before,
    # so that a day's ups and downs are usual, and a single burst does not make bursts usual.
    class Usual
      LEAST_COUNTS = 12
      # Times of the usual bounds beyond which a level begins, and by how many lines at least: few lines vary by chance.
      LEVELS = { "alarm" => [5, 50], "warning" => [2, 10] }.freeze

      # @!attribute level [String] warning or alarm
      # @!attribute direction [String] more or less
      Departure = Struct.new(:level, :direction)

      # @return [Integer, nil] bounds of what is usual
      attr_reader :low, :high

      # @param counts [Array<Integer>] of equal stretches of time
      def initialize(counts)
        return if counts.size < LEAST_COUNTS

        sorted = counts.sort
        @low = sorted[(sorted.size - 1) * 5 / 100]
        @high = sorted[((sorted.size - 1) * 95 / 100.0).ceil]
      end

      # @param count [Integer] of the latest stretch
      # @return [Departure, nil] nil while it is usual, or too little is known
      def departure(count)
        return unless low

        LEVELS.each do |level, (times, least)|
          return Departure.new(level, "more") if count > high * times && count - high >= least
          return Departure.new(level, "less") if count * times < low && low - count >= least
        end
        nil
      end
    end
  end
end
