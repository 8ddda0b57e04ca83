# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Finds a free id for each event of a batch: the next sequence number of its millisecond, or of a later one when
    # that is full. Called within a write transaction.
    class Slots
      KEPT = 200_000

      def initialize
        forget
      end

      # Forgets what is known of taken ids (after a transaction that did not commit).
      def forget
        @next = {}
        @moved = {}
        @version = nil
      end

      # @param batch [Batch]
      # @param order [Array<Integer>] indexes of its events in order of time
      # @return [Array<Integer>] ids in that order
      def assign(batch, order)
        times = batch.times
        look(times)
        severities = batch.severities
        order.map do |index|
          millis = times[index] / EventId::MILLISECOND
          at = @moved[millis] || millis
          at += 1 while (sequence = taken(at)) >= EventId::SEQUENCES
          @next[at] = sequence + 1
          @moved[millis] = at unless at == millis
          EventId.pack(at, sequence, severities[index])
        end
      end

      private

      # One query for all milliseconds of the batch, and none where it lies beyond all that is stored.
      def look(times)
        version = Database.value("PRAGMA data_version")
        forget if version != @version || @next.size > KEPT
        @version = version
        newest = Database.value("SELECT max(id) FROM events")
        @newest = newest ? EventId.millis(newest) : -Float::INFINITY
        unknown = times.map { |time| time / EventId::MILLISECOND }.uniq.reject { |millis| millis > @newest || @next.key?(millis) }
        return if unknown.empty?

        Database.rows(<<~SQL, [Oj.dump(unknown, mode: :strict)]).each { |millis, id| @next[millis] = id ? EventId.sequence(id) + 1 : 0 }
          SELECT value, (SELECT max(id) FROM events WHERE id >= value << #{EventId::TIME_BITS} AND id < (value + 1) << #{EventId::TIME_BITS})
          FROM json_each(?)
        SQL
      end

      def taken(millis)
        @next[millis] ||= if millis > @newest
                            0
                          else
                            id = Database.value("SELECT max(id) FROM events WHERE id >= ? AND id < ?", [millis << EventId::TIME_BITS, (millis + 1) << EventId::TIME_BITS])
                            id ? EventId.sequence(id) + 1 : 0
                          end
      end
    end
  end
end
