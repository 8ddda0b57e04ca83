# frozen_string_literal: true

module Northdrift
  module Store
    # Lines that alert rules have not looked at yet. An entry is written in the transaction that writes its lines, and
    # taken out in the one that writes what they raised: none is missed, and none is told twice.
    module WatchQueue
      PACKED = "q*"
      MOST = 1000

      module_function

      # Called within the transaction that writes the lines. Nothing is kept where no rule is on. Where they were judged
      # by other rules than are on by now, all of them are kept.
      # @param ids [Array<Integer>] of events, by their index
      # @param watched [Hash{Integer=>true}] by index: those that a rule may be about
      # @param version [Array, nil] of those rules, see {AlertRule.version}
      def add(ids, watched = {}, version = nil)
        return if ids.empty?

        now = AlertRule.version
        return unless now

        ids = watched.keys.map { |index| ids[index] } if version == now
        ids.each_slice(MOST) do |some|
          Database.rows("INSERT INTO watch_queue (lines, ids) VALUES (?, ?)", [some.size, some.pack(PACKED)])
        end
      end

      # @param entries [Integer]
      # @return [Array(Integer, Array<Integer>)] number of the last of the oldest entries, and the ids that they have;
      #   nil where there are none
      def oldest(entries)
        found = Database.rows("SELECT number, ids FROM watch_queue ORDER BY number LIMIT ?", [entries])
        [found.last.first, found.flat_map { |_, ids| ids.unpack(PACKED) }] if found.any?
      end

      # @return [Array<Integer>] ids of all that wait
      def waiting = Database.rows("SELECT ids FROM watch_queue").flat_map { |(ids)| ids.unpack(PACKED) }

      # @param number [Integer] of an entry; those before it go as well
      def take_out(number) = Database.rows("DELETE FROM watch_queue WHERE number <= ?", [number])
    end
  end
end
