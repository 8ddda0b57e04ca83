# frozen_string_literal: true

module Northdrift
  module Demo
    # Tarnholm Ferries, ten days of it: which machine writes what into which file, and when. The same seed and day give
    # the same lines; a later moment of the day only adds to them. All names and addresses are invented.
    class World
      DAYS = 10
      DAY = 86_400
      WEATHER_SLOW = 250

      # @return [Time] midnight UTC of the day on which the demo starts
      attr_reader :today
      # @return [Time]
      attr_reader :now

      # @param now [Time] no line is later
      # @param since [Time, nil] lines before are left out; those that follow them are the same as without
      def initialize(now:, since: nil, seed: 20)
        @now = now.getutc
        @since = since&.getutc
        @today = Time.utc(@now.year, @now.month, @now.day)
        @seed = seed
        @lines = Hash.new { |files, path| files[path] = [] }
      end

      # @return [Hash{String=>String}] text by path ("machine/file")
      def files
        days = @since ? 1 : DAYS
        (0...days).reverse_each { |ago| Everyday.new(self, ago).write }
        Incidents.new(self).write
        @lines.to_h { |path, lines| [path, text(lines)] }
      end

      # @return [Array<Array(Time, String, String)>] time, path and line of the ordinary day, without incidents
      def timed
        Everyday.new(self, 0).write
        @lines.flat_map { |path, lines| lines.map { |time, _, line| [time, path, line] } }
      end

      # @param path [String]
      # @param time [Time]
      # @param line [String]
      def add(path, time, line)
        @lines[path] << [time, @lines[path].size, line] if time < @now && (@since.nil? || time >= @since)
      end

      # @param ago [Integer] days before today
      # @param clock [String] "06:09:41.5"
      # @return [Time] UTC
      def at(ago, clock)
        hour, minute, second = clock.split(":").map(&:to_r)
        @today - (ago * DAY) + (hour * 3600) + (minute * 60) + (second || 0)
      end

      # The clock of weather-1 runs 4 min 10 s slow for two days.
      # @param time [Time]
      # @return [Time] as weather-1 has it
      def weather_clock(time) = (at(5, "06:00")...at(3, "06:00")).cover?(time) ? time - WEATHER_SLOW : time

      # @return [Random] the same for the same name and day
      def random(name, ago)
        Random.new(
          @seed +
            "#{name}#{(@today - (ago * DAY)).strftime('%j')}"
              .each_byte
              .reduce(7) { |sum, byte| ((sum * 31) + byte) % 1_000_003 }
        )
      end

      private

      def text(lines) = lines.sort_by { |time, order, _| [time, order] }.map(&:last).join("\n") << "\n"
    end
  end
end
