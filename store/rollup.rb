# frozen_string_literal: true

module Northdrift
  module Store
    # Counts kept beside the events, so that the shape over time needs no look at them: by minute and severity, and by
    # ten minutes, kind and severity.
    module Rollup
      MINUTE = 60 * Reading::Clock::SECOND
      SLOT = 10 * MINUTE

      module_function

      # @param ids [Array<Integer>]
      # @param kind_ids [Array<Integer>] kinds of these events
      def add(ids, kind_ids)
        minutes = Hash.new(0)
        slots = Hash.new(0)
        ids.each_with_index do |id, index|
          micros = EventId.micros(id)
          severity = id & EventId::SEVERITY_MASK
          minutes[((micros / MINUTE) << 4) | severity] += 1
          slots[((((micros / SLOT) << 24) | kind_ids[index]) << 4) | severity] += 1
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
