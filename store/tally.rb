# frozen_string_literal: true

module Northdrift
  module Store
    # Counts of the events of one transaction, on their way into the roll-ups. They are counted here while all that is counted
    # is at hand: grouping the rows once they are written takes six times as long.
    class Tally
      SEVERITY = EventId::SEVERITY_BITS
      # Kinds and templates are fewer than 2^24, so that a key of three parts is one machine word.
      NUMBER_BITS = 24
      MINUTE, SLOT, HOUR = [Rollup::MINUTE, Rollup::SLOT, Rollup::HOUR].map { |span| span / EventId::MILLISECOND }
      ADD = "INSERT INTO %s VALUES %s ON CONFLICT DO UPDATE SET n = n + excluded.n"
      # Rows that one statement takes.
      ROWS = 32

      def initialize
        @minutes = Hash.new(0)
        @kinds = Hash.new(0)
        @templates = Hash.new(0)
      end

      # @param batch [Batch]
      # @param ids [Array<Integer>] of its events, by index
      # @param kinds [Hash{Integer=>Integer}] ids by the batch's numbers
      # @param templates [Hash{Integer=>Integer}] likewise
      def add(batch, ids, kinds, templates)
        ids.each_with_index do |id, index|
          millis = EventId.millis(id)
          severity = id & EventId::SEVERITY_MASK
          @minutes[(millis / MINUTE << SEVERITY) | severity] += 1
          @kinds[(((kinds[batch.kinds[index]] << NUMBER_BITS) | (millis / SLOT)) << SEVERITY) | severity] += 1
          @templates[(((templates[batch.templates[index]] << NUMBER_BITS) | (millis / HOUR)) << SEVERITY) | severity] += 1
        end
      end

      # Called within the transaction. Rows go in the order of their keys, which is that of the tables.
      def write
        put("minute_counts", @minutes) { |key| [key] }
        put("kind_counts", @kinds) { |key| key.divmod(1 << NUMBER_BITS) }
        put("template_counts", @templates) { |key| key.divmod(1 << NUMBER_BITS) }
      end

      private

      def put(table, counts)
        return if counts.empty?

        rows = counts.sort_by(&:first).map { |key, n| [*yield(key >> SEVERITY), key & EventId::SEVERITY_MASK, n] }
        whole = rows.size - (rows.size % ROWS)
        insert(table, rows.first(whole), ROWS)
        insert(table, rows.drop(whole), 1)
      end

      def insert(table, rows, size)
        return if rows.empty?

        row = "(#{(['?'] * rows.first.size).join(', ')})"
        Database.prepare(format(ADD, table, ([row] * size).join(", "))) do |statement|
          rows.each_slice(size) do |slice|
            slice.flatten.each_with_index { |value, place| statement.bind_param(place + 1, value) }
            statement.step
            statement.reset!
          end
        end
      end
    end
  end
end
