# frozen_string_literal: true

module Northdrift
  module Unusual
    # Hours in a row that are out of their usual in the same direction.
    module Runs
      # @!attribute direction [String] more or less
      # @!attribute from [Integer] first hour since 1970, and the last
      # @!attribute lines [Integer] in those hours, and how many were expected
      # @!attribute log_p [Float] natural logarithm of the chance of the least likely hour
      Run = Struct.new(:direction, :from, :to, :lines, :expected, :log_p)

      module_function

      # @param counts [Hash{Integer=>Integer}] by hour since 1970
      # @param hours [Range<Integer>] that are judged; the last of them must be over
      # @param since [Integer] the first hour that is known
      # @return [Array<Run>] in order of time
      def of(counts, hours, since)
        hours
          .filter_map do |hour|
          Baseline.new(counts, hour, since).departure(counts.fetch(hour, 0))&.then do |one|
            [hour, one]
          end
        end
          .slice_when { |(hour, one), (next_hour, other)| next_hour != hour + 1 || other.direction != one.direction }
          .map { |some| joined(some, counts) }
      end

      def joined(some, counts)
        hours = some.map(&:first)
        departures = some.map(&:last)
        Run.new(
          departures.first.direction, hours.first, hours.last, hours.sum { |hour| counts.fetch(hour, 0) },
          departures.sum(&:expected), departures.map(&:log_p).min
        )
      end
      private_class_method :joined
    end
  end
end
