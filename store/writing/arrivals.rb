# frozen_string_literal: true

module Northdrift
  module Store
    # What came in by source and minute, and deliveries that must not be taken twice.
    module Arrivals
      MINUTE_US = Rollup::MINUTE
      # Minutes that are kept: the charts show an hour, the usual is told from a week.
      KEPT_US = 8 * 86_400_000_000
      # A sender that had no answer tries again within a day.
      DELIVERIES_KEPT_US = 86_400_000_000

      ADD = <<~SQL
        INSERT INTO arrivals VALUES (?, ?, ?, ?, ?, ?, ?)
        ON CONFLICT DO UPDATE SET lines = lines + excluded.lines, bytes = bytes + excluded.bytes, unread = unread + excluded.unread,
          timed = timed + excluded.timed, lag_ms = lag_ms + excluded.lag_ms
      SQL

      module_function

      # @param received_us [Integer]
      # @param timed [Integer] lines that have a time of their own
      # @param lag_us [Integer] sum of the differences of their times to when they were received
      def add(source_id, received_us, lines:, bytes:, unread:, timed:, lag_us:)
        Database.rows(ADD, [source_id, received_us / MINUTE_US, lines, bytes, unread, timed, lag_us / 1000])
      end

      # @param name [String] as its sender calls it, with the feed before it
      # @return [Integer, nil] lines of a delivery that was taken before
      def delivered(name) = Database.value("SELECT lines FROM deliveries WHERE name = ?", [name])

      def note_delivery(name, lines, at_us)
        Database.rows("INSERT INTO deliveries VALUES (?, ?, ?) ON CONFLICT DO NOTHING", [name, lines, at_us])
      end

      # @param now_us [Integer]
      def forget(now_us)
        Database.rows("DELETE FROM arrivals WHERE minute < ?", [(now_us - KEPT_US) / MINUTE_US])
        Database.rows("DELETE FROM deliveries WHERE at_us < ?", [now_us - DELIVERIES_KEPT_US])
      end
    end
  end
end
