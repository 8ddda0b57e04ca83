# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Takes sources out again, with all their lines: rows, full-text index and counts, a batch at a time, so that others
    # can write between. What was interrupted can be done again.
    module Removal
      BATCH = 10_000

      module_function

      # @param source_ids [Array<Integer>]
      # @yieldparam removed [Integer] lines taken out so far
      # @return [Integer] lines taken out
      def remove(source_ids)
        return 0 if source_ids.empty?

        Functions.current(Kinds.current)
        removed = 0
        last = -(1 << 62)
        until (ids = batch(source_ids, last)).empty?
          Database.step { take_out(ids) }
          removed += ids.size
          last = ids.last
          yield removed if block_given?
        end
        Database.rows("DELETE FROM source_blocks WHERE source_id IN (#{source_ids.map { |id| Integer(id) }.join(',')})")
        Source.where(id: source_ids).delete_all
        removed
      end

      def batch(source_ids, after)
        sources = source_ids.map { |id| Integer(id) }.join(",")
        Database.rows(
          "SELECT id FROM events WHERE source_id IN (#{sources}) AND id > ? ORDER BY id LIMIT #{BATCH}", [after]
        ).flatten
      end
      private_class_method :batch

      # Takes lines out of the rows, the index and the counts; called within a write transaction.
      # @param ids [Array<Integer>]
      def take_out(ids)
        named = ["id IN (SELECT value FROM json_each(?))", [Oj.dump(ids, mode: :strict)]]
        FullText.delete(*named)
        Rollup.subtract(*named)
        Happenings.forget(named.last.first)
        Database.rows("DELETE FROM events WHERE #{named.first}", named.last)
      end
    end
  end
end
