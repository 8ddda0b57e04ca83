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
        severities = batch.severities
        look(times, order)
        millis = at = sequence = nil
        ids = order.map do |index|
          unless (wanted = times[index] / EventId::MILLISECOND) == millis
            @next[at] = sequence if at
            millis = wanted
            at = @moved[millis] || millis
            sequence = taken(at)
          end
          at, sequence = move(millis, at) if sequence >= EventId::SEQUENCES
          EventId.pack(at, sequence, severities[index]).tap { sequence += 1 }
        end
        @next[at] = sequence if at
        ids
      end

      private

      # @return [Array(Integer, Integer)] the millisecond that events of a full one go to, and its next sequence number
      def move(millis, at)
        @next[at] = EventId::SEQUENCES
        at += 1 while (sequence = taken(at)) >= EventId::SEQUENCES
        @moved[millis] = at
        [at, sequence]
      end

      # One query for all milliseconds of the batch, and none where it lies beyond all that is stored.
      def look(times, order)
        version = Database.value("PRAGMA data_version")
        forget if version != @version || @next.size > KEPT
        @version = version
        newest = Database.value("SELECT max(id) FROM events")
        @newest = newest ? EventId.millis(newest) : -Float::INFINITY
        unknown = unknown(times, order)
        return if unknown.empty?

        newest = Database.rows(<<~SQL, [Oj.dump(unknown, mode: :strict)])
          SELECT value, (
            SELECT max(id) FROM events
            WHERE id >= value << #{EventId::TIME_BITS} AND id < (value + 1) << #{EventId::TIME_BITS}
          )
          FROM json_each(?)
        SQL
        newest.each { |millis, id| @next[millis] = id ? EventId.sequence(id) + 1 : 0 }
      end

      # @return [Array<Integer>] milliseconds of which it has to be asked what is taken
      def unknown(times, order)
        last = nil
        order.each_with_object([]) do |index, found|
          next if (millis = times[index] / EventId::MILLISECOND) == last

          last = millis
          break found if millis > @newest

          found << millis unless @next.key?(millis)
        end
      end

      # @return [Integer] the next sequence number
      def taken(millis)
        @next[millis] || (millis > @newest ? 0 : @next[millis] = stored(millis))
      end

      def stored(millis)
        id =
          Database.value(
            "SELECT max(id) FROM events WHERE id >= ? AND id < ?",
            [millis << EventId::TIME_BITS, (millis + 1) << EventId::TIME_BITS]
          )
        id ? EventId.sequence(id) + 1 : 0
      end
    end
  end
end
