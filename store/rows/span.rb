# frozen_string_literal: true

module Northdrift
  module Store
    # The stretch of time that has events.
    module Span
      module_function

      # @return [Array(Integer, Integer)] microseconds UTC of the first event and just after the last; a day from 1970
      #   when there are none
      def all
        first, last = Database.rows("SELECT (SELECT min(id) FROM events), (SELECT max(id) FROM events)").first
        return [0, 86_400_000_000] unless first

        [EventId.micros(first), EventId.micros(last) + EventId::MILLISECOND]
      end
    end
  end
end
