# frozen_string_literal: true

module Northdrift
  module Store
    # How feeds are doing: what came in of late, by minute, and what became of it.
    class FeedReport
      MINUTES = 60
      DAY_MINUTES = 24 * 60
      # Sources of one feed that are told one by one; the rest are in its sums.
      MOST_SOURCES = 100

      # @!attribute lines [Array<Integer>] of each of the last {MINUTES}, the current one last
      # @!attribute bytes [Array<Integer>]
      # @!attribute day_lines [Integer] within 24 hours
      # @!attribute day_bytes [Integer]
      # @!attribute unread [Integer] of these lines
      # @!attribute lag_ms [Float, nil] mean of the last hour: how long after its own time a line was received
      # @!attribute last_minute [Integer, nil] in which something came
      # @!attribute usual [Hash, nil] where the last {STRETCH} minutes are out of what 24 hours say is usual: their
      #   lines, the bounds, level and direction, see {Measure::Usual}
      Volume = Struct.new(:lines, :bytes, :day_lines, :day_bytes, :unread, :lag_ms, :last_minute, :usual)
      # Minutes that are compared.
      STRETCH = 5

      # @param now_us [Integer]
      def initialize(now_us)
        @minute = now_us / Rollup::MINUTE
      end

      # @return [Array<Array(Feed, Volume, Array<Array(Source, Volume)>)>] the loudest sources of each first
      def feeds
        sources = Source.where.not(feed_id: nil).group_by(&:feed_id)
        Feed.present.order(:id).map do |feed|
          own = sources.fetch(feed.id, [])
          told =
            own
              .map { |source| [source, volume(rows.fetch(source.id, []))] }
              .sort_by { |source, volume| [-volume.day_lines, -source.id] }
          [feed, volume(own.flat_map { |source| rows.fetch(source.id, []) }), told.first(MOST_SOURCES)]
        end
      end

      # @return [StoredEvent, nil] the line of a source that was written last
      def self.last_line(source)
        id =
          Database.value(
            "SELECT last_id FROM source_blocks WHERE source_id = ? ORDER BY block DESC LIMIT 1", [source.id]
          )
        id && Events.find(id)
      end

      private

      def rows
        @rows ||=
          Database.rows(
            "SELECT source_id, minute, lines, bytes, unread, timed, lag_ms FROM arrivals WHERE minute > ?",
            [@minute - DAY_MINUTES]
          ).group_by(&:first)
      end

      def volume(rows)
        hour = rows.select { |_, minute| minute > @minute - MINUTES }
        timed = hour.sum { |row| row[5] }
        Volume.new(
          by_minute(hour, 2), by_minute(hour, 3), rows.sum { |row| row[2] }, rows.sum { |row| row[3] },
          rows.sum { |row| row[4] }, timed.zero? ? nil : hour.sum { |row| row[6] }.fdiv(timed),
          rows.map { |row| row[1] }.max, usual(rows)
        )
      end

      # The minute that is going on is left out.
      def usual(rows)
        counts = Hash.new(0)
        rows.each { |row| counts[(@minute - 1 - row[1]) / STRETCH] += row[2] if row[1] < @minute }
        # Before its first line nothing was usual; the stretch with that line is not whole.
        oldest = (counts.keys.max || 0) - 1
        usual = Measure::Usual.new((1..oldest).map { |stretch| counts[stretch] })
        departure = usual.departure(counts[0]) or return
        {
          "lines" => counts[0], "low" => usual.low, "high" => usual.high, "level" => departure.level,
          "direction" => departure.direction
        }
      end

      def by_minute(rows, column)
        counts = Array.new(MINUTES, 0)
        rows.each { |row| counts[row[1] - @minute + MINUTES - 1] += row[column] if row[1] <= @minute }
        counts
      end
    end
  end
end
