# frozen_string_literal: true

module Northdrift
  module Store
    # Counts kept beside the events, so that the shape over time needs no look at them: by minute and severity, by ten
    # minutes and by hour, kind and severity, and by hour, template and severity. What is written is counted by {Tally};
    # what is in the table already, here.
    module Rollup
      MINUTE = 60 * Reading::Clock::SECOND
      SLOT = 10 * MINUTE

      HOUR = 60 * MINUTE

      # @param span [Integer] microseconds
      # @return [String] SQL: number of the span that an event's id is of. A device whose clock was lost may be an hour
      #   before 1970, and SQL's division rounds towards nought.
      def self.number(span)
        millis = "(id >> #{EventId::TIME_BITS})"
        size = span / EventId::MILLISECOND
        "(#{millis} - (#{millis} % #{size} + #{size}) % #{size}) / #{size}"
      end

      SECOND = number(Reading::Clock::SECOND).freeze

      # Tables, and what they count by besides severity.
      TABLES = {
        "minute_counts" => number(MINUTE), "second_counts" => SECOND, "kind_counts" => "kind_id, #{number(SLOT)}",
        "kind_hours" => "kind_id, #{number(HOUR)}",
        "template_counts" => "template_id, #{number(HOUR)}"
      }.freeze
      # Which events they count, where they do not count all: see {BusyMinutes}.
      COUNTED = {
        "second_counts" =>
          "id >= 0 AND EXISTS (SELECT 1 FROM second_counts AS known WHERE known.second BETWEEN " \
          "#{SECOND} / 60 * 60 AND #{SECOND} / 60 * 60 + 59)"
      }.freeze

      module_function

      # @param predicate [String] names the events to count, which are in the table already
      # @param binds [Array]
      def add(predicate, binds) = change("+", predicate, binds)

      # Takes events out of the counts again, before they leave the table.
      def subtract(predicate, binds)
        change("-", predicate, binds)
        TABLES.each_key { |table| Database.rows("DELETE FROM #{table} WHERE n <= 0") }
      end

      def change(sign, predicate, binds)
        TABLES.each do |table, columns|
          keys = (1..columns.split(", ").size + 1).to_a.join(", ")
          Database.rows(<<~SQL, binds)
            INSERT INTO #{table} SELECT #{columns}, id & #{EventId::SEVERITY_MASK} AS severity, count(*)
            FROM events WHERE (#{predicate}) AND #{COUNTED.fetch(table, 'true')} GROUP BY #{keys}
            ON CONFLICT DO UPDATE SET n = n #{sign} excluded.n
          SQL
        end
      end
      private_class_method :change
    end
  end
end
