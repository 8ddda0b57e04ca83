# frozen_string_literal: true

module Northdrift
  module Logbook
    # Hours in which a machine wrote far more or far less than it does: set against the same hours of the days before
    # and those beside them, with what {Measure::Usual} takes for usual.
    module Departures
      HOURS = 24
      DAYS = 7
      # Hours beside the same hour that are looked at too.
      BESIDE = [-1, 0, 1].freeze

      # @!attribute from [Integer] first hour since 1970, and the last
      # @!attribute most [Integer] lines of its loudest hour; of its quietest, where there were fewer
      # @!attribute usual [Integer] the bound that was passed
      # @!attribute direction [String] more or less
      # @!attribute level [String] warning or alarm
      Found = Struct.new(:from, :to, :most, :usual, :direction, :level)

      module_function

      # @param counts [Hash{Integer=>Integer}] lines by hour since 1970
      # @param hours [Range<Integer>] that are to be judged; the last of them must be over
      # @param since [Integer] the first hour that there are lines of
      # @return [Array<Found>] in order of time; hours that follow each other are one
      def in_hours(counts, hours, since)
        hours
          .filter_map { |hour| at(counts, hour, since) }
          .slice_when { |one, other| other.from != one.to + 1 || other.direction != one.direction }
          .map { |run| joined(run) }
      end

      def at(counts, hour, since)
        before =
          (1..DAYS)
            .flat_map { |day| BESIDE.map { |beside| hour - (day * HOURS) + beside } }
            .select { |one| one >= since && one < hour }
        usual = Measure::Usual.new(before.map { |one| counts.fetch(one, 0) })
        departure = usual.departure(counts.fetch(hour, 0)) or return
        Found.new(
          hour, hour, counts.fetch(hour, 0), departure.direction == "more" ? usual.high : usual.low,
          departure.direction, departure.level
        )
      end
      private_class_method :at

      def joined(run)
        extreme = run.map(&:most).then { |all| run.first.direction == "more" ? all.max : all.min }
        Found.new(
          run.first.from, run.last.to, extreme, run.map(&:usual).max, run.first.direction,
          run.map(&:level).include?("alarm") ? "alarm" : "warning"
        )
      end
      private_class_method :joined
    end
  end
end
