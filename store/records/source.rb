# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Where lines came in: a file, a part of an archive, standard input, a sender.
    class Source < Record
      self.table_name = "sources"

      LIVE_US = 900_000_000
      MINUTE_US = 60_000_000

      # @param now_us [Integer]
      # @return [Boolean] whether lines came in by themselves within the last quarter of an hour, beside the audit trail
      def self.live?(now_us)
        feeds = Feed.present.where.not(kind: "audit").pluck(:id)
        ids = where(feed_id: feeds).pluck(:id)
        ids.any? && Database.value(
          "SELECT EXISTS (SELECT 1 FROM arrivals WHERE source_id IN (#{ids.join(',')}) AND minute >= ?)",
          [(now_us - LIVE_US) / MINUTE_US]
        ) == 1
      end

      # @return [Hash{String=>Integer}] events by reader
      def by_reader = Oj.load(readers, mode: :strict)

      # Counts what is written of it; it is not saved by that.
      # @param readers [Hash{Symbol=>Integer}]
      def add(lines: 0, events: 0, unread: 0, repeated: 0, readers: {})
        self.lines += lines
        self.events += events
        self.unread += unread
        self.repeated += repeated
        return if readers.empty?

        self.readers =
          Oj.dump(
            by_reader.merge(readers.transform_keys(&:to_s)) { |_, had, more| had + more }, mode: :strict
          )
      end
    end
  end
end
