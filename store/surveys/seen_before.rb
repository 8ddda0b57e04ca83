# frozen_string_literal: true

module Northdrift
  module Store
    # Whether a pattern was there before: per day, by hour of the day, and since when.
    class SeenBefore
      DAYS = 30
      DAY_HOURS = 24

      # @return [Integer, nil] microseconds UTC of its first line ever
      attr_reader :first_us
      # @return [Integer] lines ever
      attr_reader :total
      # @return [Array<Integer>] lines of the last days, the day of the moment last
      attr_reader :days
      # @return [Array<Integer>] lines by hour of the day
      attr_reader :hours

      # @param pattern [Integer]
      # @param moment_us [Integer]
      # @param utc_offset [Integer] seconds by which the day of the reader is ahead of UTC, in whole hours at best
      def initialize(pattern, moment_us, utc_offset: 0)
        @templates = KnownPatterns.current.templates(pattern).join(",")
        @ahead = utc_offset / 3600
        @today = ((moment_us / Rollup::HOUR) + @ahead) / DAY_HOURS
        counts =
          Database.rows(
            "SELECT hour, sum(n) FROM template_counts WHERE template_id IN (#{@templates}) GROUP BY hour ORDER BY hour"
          )
        @total = counts.sum(&:last)
        @days = Array.new(DAYS, 0)
        @hours = Array.new(DAY_HOURS, 0)
        counts.each { |hour, n| add(hour + @ahead, n) }
        @first_us = counts.empty? ? nil : first_in(counts.first.first)
      end

      # @return [Integer] microseconds UTC where the first of {days} starts
      def start_us = (((@today - DAYS + 1) * DAY_HOURS) - @ahead) * Rollup::HOUR

      private

      def add(hour, n)
        @hours[hour % DAY_HOURS] += n
        day = hour / DAY_HOURS
        @days[day - @today - 1] += n if day > @today - DAYS && day <= @today
      end

      def first_in(hour)
        id = Database.value("SELECT min(id) FROM events WHERE id >= ? AND id < ? AND template_id IN (#{@templates})",
                            [EventId.first(hour * Rollup::HOUR), EventId.first((hour + 1) * Rollup::HOUR)])
        id && EventId.micros(id)
      end
    end
  end
end
