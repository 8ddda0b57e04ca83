# frozen_string_literal: true

module Northdrift
  module Store
    # Counts kept beside the events, so that the shape over time needs no look at them: by minute and severity, and by
    # ten minutes, kind and severity.
    module Rollup
      MINUTE = 60 * Reading::Clock::SECOND
      SLOT = 10 * MINUTE

      module_function

      # @param rows [Array<Packer::Row>]
      # @param ids [Array<Integer>]
      # @param kinds [Hash{Integer=>Integer}] kind ids by the packer's numbers
      # @param sign [Integer] -1 to take out again
      def add(rows, ids, kinds)
        minutes = Hash.new(0)
        slots = Hash.new(0)
        rows.each_with_index do |row, index|
          id = ids[index]
          micros = EventId.micros(id)
          severity = id & EventId::SEVERITY_MASK
          minutes[((micros / MINUTE) << 4) | severity] += 1
          slots[((((micros / SLOT) << 24) | kinds[row.kind]) << 4) | severity] += 1
        end
        keep("INSERT INTO minute_counts VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET n = n + excluded.n",
             minutes.map { |key, n| [key >> 4, key & 15, n] })
        keep("INSERT INTO kind_counts VALUES (?, ?, ?, ?) ON CONFLICT DO UPDATE SET n = n + excluded.n",
             slots.map { |key, n| [key >> 28, (key >> 4) & 0xFFFFFF, key & 15, n] })
      end

      def keep(sql, rows)
        Database.prepare(sql) do |statement|
          rows.each do |row|
            row.each_with_index { |value, index| statement.bind_param(index + 1, value) }
            statement.step
            statement.reset!
          end
        end
      end
      private_class_method :keep
    end
  end
end
