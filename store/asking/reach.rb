# frozen_string_literal: true

module Northdrift
  module Store
    # How far from an end of a window a page goes, told by the counts alone: a page of a machine's lines needs no look
    # at the rest of the window.
    module Reach
      # How many times more slots are looked at in each attempt.
      GROWTH = 4

      module_function

      # @param condition [Condition] told by counts
      # @param first [Integer] ids of the window
      # @param last [Integer]
      # @param backward [Boolean] whether the page lies at the end of the window
      # @param limit [Integer] events of the page
      # @return [Array(Integer, Integer)] ids of a window that holds so many events at that end, if there are so many
      def ids(condition, first, last, backward:, limit:)
        table = condition.kinds ? "kind_counts" : "minute_counts"
        column, size = condition.kinds ? ["slot", Rollup::SLOT] : ["minute", Rollup::MINUTE]
        # Only slots that lie within the window as a whole tell what is in it.
        from = -(-(EventId.micros(first - 1) + EventId::MILLISECOND) / size)
        to = EventId.micros(last + 1) / size
        sql =
          "SELECT sum(n) FROM " \
          "#{table} WHERE #{Counts.rollup_predicate(condition.as_sql.first)} AND #{column} >= ? AND " \
          "#{column} < ?"
        width = 1
        while width < to - from
          slots = backward ? [to - width, to] : [from, from + width]
          if Database.value(sql, slots).to_i >= limit
            return [[first, EventId.first(slots[0] * size)].max, last] if backward

            return [first, [last, EventId.first(slots[1] * size) - 1].min]
          end

          width *= GROWTH
        end
        [first, last]
      end

      # @return [Integer] events between two ids, whatever they are, and up to two minutes' more
      def events(first, last)
        Database.value(
          "SELECT sum(n) FROM main.minute_counts WHERE minute BETWEEN ? AND ?",
          [first, last].map { |id| EventId.micros(id) / Rollup::MINUTE }
        ).to_i
      end
    end
  end
end
