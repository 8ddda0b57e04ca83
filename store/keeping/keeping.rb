# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # How long lines are kept: all of them, those of a feed, and how large the database may become.
    # @!attribute days [Integer, nil] nil: for ever
    # @!attribute megabytes [Integer, nil] nil: as large as it becomes
    # @!attribute archive [Boolean] whether what leaves the database is written to a file first
    Keeping = Struct.new(:days, :megabytes, :archive, keyword_init: true) do
      # @return [Keeping] as it was set; everything for ever until then
      def self.current
        text = Setting.get(Keeping::NAME)
        if text
          new(**Oj.load(text, mode: :strict).transform_keys(&:to_sym))
        else
          new(days: nil, megabytes: nil, archive: true)
        end
      end

      def save = Setting.change(Keeping::NAME, Oj.dump(to_h.transform_keys(&:to_s), mode: :strict))

      # What is to be forgotten by age.
      # @param now_us [Integer]
      # @return [Array<Array(Integer, String)>] time before which lines go, and a predicate on their source
      def limits(now_us)
        own = Feed.where.not(keep_days: nil).pluck(:id, :keep_days)
        fed = "SELECT id FROM sources WHERE feed_id IN (%s)"
        limits =
          own.map do |id, days|
            [now_us - (days * Question::DAY_US), "source_id IN (#{format(fed, Integer(id))} AND archive_id IS NULL)"]
          end
        return limits unless days

        others = "source_id NOT IN (#{format(fed, own.map { |id,| Integer(id) }.join(','))} OR archive_id IS NOT NULL)"
        [*limits, [now_us - (days * Question::DAY_US), others]]
      end

      # @param now_us [Integer]
      # @return [Integer] lines that are older than they are kept
      def overdue(now_us)
        limits(now_us).sum do |before_us, sources|
          Database.value("SELECT count(*) FROM events WHERE id < ? AND #{sources}", [EventId.first(before_us)])
        end
      end

      # @return [Integer] lines by which the database is too large, going by the room that a line takes in the mean
      def surplus
        return 0 unless megabytes

        bytes = Database.bytes
        lines = Database.value("SELECT coalesce(sum(n), 0) FROM minute_counts")
        limit = megabytes * 1_000_000
        return 0 unless bytes > limit && lines.positive?

        # Tables have a page each that no line takes.
        of_lines = [bytes - Database.bytes_of_none, 1].max
        [((bytes - (limit * Keeping::AFTER)) * lines / of_lines).ceil, lines].min
      end
    end

    class Keeping
      NAME = "keeping"
      # A database that was too large is made so much smaller, or it would be too large again at once.
      AFTER = 0.9
    end
  end
end
