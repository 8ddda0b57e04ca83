# frozen_string_literal: true

module Northdrift
  module Store
    # The stretch of time that has events.
    module Span
      SLOT_IDS = (Rollup::SLOT / EventId::MILLISECOND) << EventId::TIME_BITS

      module_function

      # @return [Array(Integer, Integer)] microseconds UTC of the first event and just after the last; a day from 1970
      #   when there are none
      def all
        first, last = Sight.current ? seen : ids
        return [0, 86_400_000_000] unless first

        [EventId.micros(first), EventId.micros(last) + EventId::MILLISECOND]
      end

      def ids(where = "true")
        Database.rows("SELECT (SELECT min(id) FROM events WHERE #{where}), (SELECT max(id) FROM events WHERE #{where})")
          .first
      end
      private_class_method :ids

      # The counts tell where to look among the lines that others see.
      def seen
        slots = Database.rows("SELECT min(slot), max(slot) FROM kind_counts").first
        return unless slots.first

        slots.map { |slot| ids("id >= #{slot * SLOT_IDS} AND id < #{(slot + 1) * SLOT_IDS}") }
          .then { |(first, _), (_, last)| [first, last] }
      end
      private_class_method :seen
    end
  end
end
