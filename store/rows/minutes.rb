# frozen_string_literal: true

module Northdrift
  module Store
    # The minutes that have lines, found by the counts.
    module Minutes
      SLOT = Rollup::SLOT / Rollup::MINUTE
      MINUTE_IDS = (Rollup::MINUTE / EventId::MILLISECOND) << EventId::TIME_BITS

      module_function

      # @return [Minutes, Seen] those of what may be seen
      def current = Sight.current ? Seen.new : self

      # @param minute [Integer] since 1970
      # @return [Integer, nil] the first that has lines, from it on
      def from(minute) = Database.value("SELECT min(minute) FROM minute_counts WHERE minute >= ?", [minute])

      # @return [Integer, nil] the last that has lines, before it
      def before(minute) = Database.value("SELECT max(minute) FROM minute_counts WHERE minute < ?", [minute])

      # Within a {Sight}, counts have ten minutes; which of them it is, the lines tell.
      class Seen
        def initialize
          @slots = Database.rows("SELECT DISTINCT slot FROM kind_counts ORDER BY slot").flatten
        end

        def from(minute)
          at = @slots.bsearch_index { |slot| slot >= minute.div(SLOT) } or return
          @slots.drop(at).first(2).filter_map { |slot| edge("min", [slot * SLOT, minute].max, (slot + 1) * SLOT) }.first
        end

        def before(minute)
          at = (@slots.bsearch_index { |slot| slot > (minute - 1).div(SLOT) } || @slots.size) - 1
          @slots[[at - 1, 0].max..at].reverse.filter_map do |slot|
            edge("max", slot * SLOT, [(slot + 1) * SLOT, minute].min)
          end.first
        end

        private

        def edge(side, first, stop)
          id = Database.value(
            "SELECT #{side}(id) FROM events WHERE id >= ? AND id < ?", [first * MINUTE_IDS, stop * MINUTE_IDS]
          )
          id&.div(MINUTE_IDS)
        end
      end
    end
  end
end
