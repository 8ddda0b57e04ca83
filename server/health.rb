# frozen_string_literal: true

module Northdrift
  module Server
    # How the program itself is doing, in figures.
    class Health
      Family = Export::OpenMetrics::Family
      BYTES = "bytes"
      # Of the feeds: what is told of each, and how.
      FEEDS = {
        "lines" => "Lines that came in by a feed", "bytes" => "Bytes that came in by a feed",
        "unread" => "Lines of a feed that no reader understood", "repeated" => "Lines of a feed that had come before"
      }.freeze

      # @param dir [String] data folder
      def initialize(dir)
        @dir = dir
      end

      # @return [Array<Export::OpenMetrics::Family>]
      def families = [program, lines, latest, alerts, *(Store::Sight.current ? [] : whole)]

      private

      def program
        Family.new(name: "northdrift", type: "info", help: "The program", samples: [[{ "version" => VERSION }, 1]])
      end

      def lines = gauge("northdrift_lines", "Lines that are kept", [[{}, Store::Events.total]])

      def latest
        last_us = Store::Span.all.last
        gauge("northdrift_last_line_timestamp_seconds", "Time of the latest line", [[{}, last_us / 1e6]], "seconds")
      end

      def alerts
        counts = Store::Alert.roots.where(quiet_id: nil).where.not(state: "closed").group(:state, :severity).count
        samples = counts.sort.map do |(state, severity), n|
          [{ "state" => state, "severity" => Severity::NAMES[severity] }, n]
        end
        gauge("northdrift_alerts", "Alerts that are not closed", samples)
      end

      # What is for who sees everything.
      def whole = [*feeds, *room]

      def feeds
        names = Store::Feed.present.order(:id).to_h { |feed| [feed.id, { "feed" => Text.display(feed.name), "kind" => feed.kind }] }
        FEEDS.map do |column, help|
          sums = Store::Source.where(feed_id: names.keys).group(:feed_id).sum(column)
          samples = names.map { |id, labels| [labels, sums.fetch(id, 0)] }
          Family.new(name: "northdrift_feed_#{column}", type: "counter", unit: (BYTES if column == BYTES), help: help,
                     samples: samples)
        end
      end

      def room
        database = Dir[File.join(@dir, "#{Store::Database::FILE}*")].sum { |path| File.size?(path).to_i }
        disk = Store::Disk.of(@dir)
        free = disk && gauge("northdrift_disk_free_bytes", "Room on the disk of the data folder", [[{}, disk.free]],
                             BYTES)
        [gauge("northdrift_database_bytes", "Size of the database", [[{}, database]], BYTES), free].compact
      end

      def gauge(name, help, samples, unit = nil)
        Family.new(name: name, type: "gauge", unit: unit, help: help, samples: samples)
      end
    end
  end
end
