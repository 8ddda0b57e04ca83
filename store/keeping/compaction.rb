# frozen_string_literal: true

module Northdrift
  module Store
    # Gives back the room that forgotten lines leave, in small steps between which others write: pieces of the full-text
    # index are merged, and free pages at the end of the file are cut off.
    class Compaction
      # Pages that a step works on.
      STEP = 800
      # Below this the file is left as it is: pages are used again.
      WORTH_PAGES = 128

      # @param stop [#call] returns true when it is time to end
      def initialize(stop: -> { false })
        @stop = stop
      end

      # @return [Integer] bytes by which the file became smaller
      def run
        before = pages
        merge
        cut_off
        Database.checkpoint
        (before - pages) * Database::PAGE_BYTES
      end

      private

      # Fewer than two changes say that there was nothing to merge (SQLite's FTS5 documentation, the 'merge' command).
      def merge
        first = true
        until @stop.call
          before = Database.raw.total_changes
          Database.rows("INSERT INTO lines(lines, rank) VALUES ('merge', ?)", [first ? -STEP : STEP])
          return if Database.raw.total_changes - before < 2

          first = false
          Database.give_way
        end
      end

      def cut_off
        until @stop.call || (free = Database.value("PRAGMA freelist_count")) < WORTH_PAGES
          Database.rows("PRAGMA incremental_vacuum(#{STEP})")
          return if Database.value("PRAGMA freelist_count") == free # a file that was made without this

          Database.give_way
        end
      end

      def pages = Database.value("PRAGMA page_count")
    end
  end
end
