# frozen_string_literal: true

module Northdrift
  module Store
    # A source as it came in, put together again from the records that were kept of it.
    class SourceText
      BLOCK = 512
      NEIGHBOURS = { "<" => "max", ">" => "min" }.freeze

      UPSERT = <<~SQL
        INSERT INTO source_blocks VALUES (?, ?, ?, ?)
        ON CONFLICT DO UPDATE SET first_id = min(first_id, excluded.first_id), last_id = max(last_id, excluded.last_id)
      SQL

      # Notes where records are that were just written.
      # @param source_id [Integer]
      # @param lines [Array<Integer>] numbers of their lines, ascending
      # @param ids [Array<Integer>] of the events
      # @param before [Integer] lines of the source before those that are counted
      def self.note(source_id, lines, ids, before)
        at = 0
        while at < lines.size
          block = (lines[at] + before) / BLOCK
          ends = lines.bsearch_index { |line| (line + before) / BLOCK > block } || lines.size
          Database.rows(UPSERT, [source_id, block, *ids[at...ends].minmax])
          at = ends
        end
      end

      # @param source [Source]
      def initialize(source)
        @source = source
      end

      # @return [Integer] number of its last record's first line
      def last_line
        number = Database.value("SELECT max(block) FROM source_blocks WHERE source_id = ?", [@source.id])
        # Somebody may not see all of them.
        number = neighbour(number, "<") while number && (found = block(number)).empty?
        number ? found.last.line : 0
      end

      # @param line [Integer]
      # @param before [Integer] records before the one that has the line
      # @param after [Integer] records after it
      # @return [Array<StoredEvent>] in the order of the source
      def around(line, before:, after:)
        first = last = line / BLOCK
        found = block(first)
        # The record that has the line may begin in a block before.
        while found.count { |event| event.line <= line } <= before && (first = neighbour(first, "<"))
          found = block(first) + found
        end
        while found.count { |event| event.line > line } < after && (last = neighbour(last, ">"))
          found += block(last)
        end
        at = found.rindex { |event| event.line <= line } || 0
        found[[at - before, 0].max..(at + after)] || []
      end

      # @return [Integer] of its text, as far as it may be seen
      def bytes
        return @source.bytes unless Sight.current&.part?(@source.id)

        enum_for(:each).sum(&:bytesize)
      end

      # @yieldparam bytes [String] its text, piece by piece
      def each
        Database
          .rows("SELECT block FROM source_blocks WHERE source_id = ? ORDER BY block", [@source.id])
          .flatten
          .each do |number|
            yield block(number).map { |event| event.raw + event.kind.traits.fetch("ending", "\n") }.join
          end
      end

      private

      # @param side [String] < or >
      # @return [Integer, nil] the next block on that side that has lines
      def neighbour(block, side)
        Database.value(
          "SELECT #{NEIGHBOURS.fetch(side)}(block) FROM source_blocks WHERE source_id = ? AND block #{side} ?",
          [@source.id, block]
        )
      end

      # @return [Array<StoredEvent>]
      def block(block)
        ids =
          Database.rows(
            "SELECT first_id, last_id FROM source_blocks WHERE source_id = ? AND block = ?", [@source.id, block]
          ).first or return []
        rows =
          Database.rows(
            "SELECT #{StoredEvent::COLUMNS} FROM events WHERE id BETWEEN ? AND ? AND source_id = ? " \
            "AND line / #{BLOCK} = ? ORDER BY line, offset",
            [*ids, @source.id, block]
          )
        rows.map { |row| StoredEvent.new(row, Kinds.current) }
      end
    end
  end
end
