# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Takes old lines out of the database, a batch at a time, so that others can write between; into an archive first,
    # if that is wanted. A batch is on disk before the transaction that takes it out is committed: whatever is killed at
    # whatever moment, a line is in the one or in the other.
    class Forgetting
      BATCH = 4000
      ALL = "source_id NOT IN (SELECT id FROM sources WHERE archive_id IS NOT NULL)"

      # @param keeping [Keeping]
      # @param stop [#call] returns true when it is time to end
      def initialize(keeping, stop: -> { false })
        @keeping = keeping
        @stop = stop
      end

      # @return [Integer] lines that were taken out
      def run(now_us)
        Functions.current(Kinds.current)
        forgotten =
          @keeping.limits(now_us).sum { |before_us, sources| before(EventId.first(before_us), sources, now_us) }
        surplus = @keeping.surplus
        forgotten + (surplus.positive? ? before(1 << 62, ALL, now_us, most: surplus) : 0)
      end

      private

      def before(last, sources, now_us, most: nil)
        forgotten = 0
        from = -(1 << 62)
        until @stop.call || (most && forgotten >= most)
          taken, from = batch(from, last, sources, most ? [BATCH, most - forgotten].min : BATCH, now_us)
          return forgotten if taken.zero?

          forgotten += taken
        end
        forgotten
      end

      # @return [Array(Integer, Integer)] lines taken out, and the last id that was looked at
      def batch(from, last, sources, size, now_us)
        Database.step do
          events = of_one_day(rows(from, last, sources, size))
          next [0, last] if events.empty?

          put_away(events, now_us) if @keeping.archive
          Removal.take_out(events.map(&:id))
          [events.size, events.last.id]
        end
      end

      def rows(from, last, sources, size)
        Database
          .rows(
            "SELECT #{StoredEvent::COLUMNS} FROM events WHERE id > ? AND id < ? AND #{sources} ORDER BY id LIMIT " \
            "#{Integer(size)}",
            [from, last]
          )
          .map { |row| StoredEvent.new(row, Kinds.current) }
      end

      def of_one_day(events)
        day = events.first && (events.first.time_us / Question::DAY_US)
        events.take_while { |event| event.time_us / Question::DAY_US == day }
      end

      def put_away(events, now_us)
        archive = Northdrift::Store::Archive.of(events.first.time_us, now_us)
        names = Source.where(id: events.map(&:source_id).uniq).pluck(:id, :name).to_h
        lines =
          events.map do |event|
            Oj.dump(
              Northdrift::Archive::Line.of(event.event, Text.display(names.fetch(event.source_id, ""))), mode: :strict
            )
          end
        archive.update!(
          bytes: archive.content.append(archive.bytes, lines), lines: archive.lines + lines.size, changed_us: now_us
        )
      end
    end
  end
end
