# frozen_string_literal: true

module Northdrift
  module Store
    # Single events.
    module Events
      module_function

      # @param id [Integer]
      # @return [StoredEvent, nil]
      def find(id)
        row = Database.rows("SELECT #{StoredEvent::COLUMNS} FROM events WHERE id = ?", [id]).first
        row && StoredEvent.new(row, Kinds.current)
      end

      # @return [Integer] how many there are
      def total = Database.value("SELECT sum(n) FROM #{Sight.current ? 'kind_counts' : 'minute_counts'}").to_i
    end
  end
end
