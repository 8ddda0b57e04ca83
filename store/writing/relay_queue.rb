# frozen_string_literal: true

module Northdrift
  module Store
    # Lines on their way to relays. An entry is written in the transaction that writes its lines: what was acknowledged
    # to its sender will be sent on, whatever is killed meanwhile. All relays share the queue; each has its own
    # position.
    module RelayQueue
      # @!attribute number [Integer]
      # @!attribute ids [Array<Integer>] of events
      Entry = Struct.new(:number, :ids)

      PACKED = "q*"
      # An entry has at most so many lines, so that a relay can go on in the middle of a large batch.
      MOST = 1000

      module_function

      # Called within the transaction that writes the lines. Nothing is kept where there is no relay.
      # @param ids [Array<Integer>] of events
      def add(ids)
        return if ids.empty? || Database.value("SELECT 1 FROM relays WHERE deleted_us IS NULL LIMIT 1").nil?

        ids.each_slice(MOST) do |some|
          Database.rows("INSERT INTO relay_queue (lines, ids) VALUES (?, ?)", [some.size, some.pack(PACKED)])
        end
      end

      # @param position [Integer]
      # @return [Entry, nil] the next one behind it
      def after(position)
        number, ids =
          Database.rows(
            "SELECT number, ids FROM relay_queue WHERE number > ? ORDER BY number LIMIT 1", [position]
          ).first
        number && Entry.new(number, ids.unpack(PACKED))
      end

      # @return [Integer] the last entry there ever was
      def last = Database.value("SELECT coalesce((SELECT seq FROM sqlite_sequence WHERE name = 'relay_queue'), 0)")

      # @return [Integer]
      def lines_after(position)
        Database.value("SELECT coalesce(sum(lines), 0) FROM relay_queue WHERE number > ?", [position])
      end

      # Takes out what all relays have.
      def tidy
        Database.rows(
          "DELETE FROM relay_queue WHERE number <= coalesce((SELECT min(position) FROM relays WHERE deleted_us IS " \
          "NULL), (SELECT max(number) FROM relay_queue))"
        )
      end

      # @param one [Entry]
      # @return [Array<StoredEvent>] its lines in their order; those that were forgotten meanwhile are missing
      def lines(one) = StoredEvent.all(one.ids)
    end
  end
end
