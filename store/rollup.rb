# frozen_string_literal: true

module Northdrift
  module Store
    # Counts kept beside the events, so that the shape over time needs no look at them: by minute and severity, and by
    # ten minutes, kind and severity.
    module Rollup
      MINUTE = 60 * Reading::Clock::SECOND
      SLOT = 10 * MINUTE

      module_function

      # @param predicate [String] names the events to count, which are in the table already
      # @param binds [Array]
      def add(predicate, binds) = change("+", predicate, binds)

      # Takes events out of the counts again, before they leave the table.
      def subtract(predicate, binds)
        change("-", predicate, binds)
        %w[minute_counts kind_counts].each { |table| Database.rows("DELETE FROM #{table} WHERE n <= 0") }
      end

      def change(sign, predicate, binds)
        Database.rows(<<~SQL, binds)
          INSERT INTO minute_counts SELECT (id >> #{EventId::TIME_BITS}) / #{MINUTE / EventId::MILLISECOND} AS minute, id & #{EventId::SEVERITY_MASK}, count(*)
          FROM events WHERE #{predicate} GROUP BY 1, 2 ON CONFLICT DO UPDATE SET n = n #{sign} excluded.n
        SQL
        Database.rows(<<~SQL, binds)
          INSERT INTO kind_counts SELECT kind_id, (id >> #{EventId::TIME_BITS}) / #{SLOT / EventId::MILLISECOND}, id & #{EventId::SEVERITY_MASK}, count(*)
          FROM events WHERE #{predicate} GROUP BY 1, 2, 3 ON CONFLICT DO UPDATE SET n = n #{sign} excluded.n
        SQL
      end
      private_class_method :change
    end
  end
end
