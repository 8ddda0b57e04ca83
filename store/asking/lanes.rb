# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Tells the database which kinds are to be counted as one, and in which steps, in tables of this connection alone.
    module Lanes
      module_function

      # @param lanes [Hash{Integer=>Integer}] numbers by kind id, for `JOIN temp.lanes ON lanes.kind = …`
      def tell(lanes)
        connection = Database.raw
        return if connection.instance_variable_get(:@northdrift_lanes) == lanes

        Database.rows("CREATE TEMP TABLE IF NOT EXISTS lanes (kind INTEGER PRIMARY KEY, lane INTEGER NOT NULL)")
        Database.rows("DELETE FROM temp.lanes")
        Database.rows(
          "INSERT INTO temp.lanes SELECT CAST(key AS INTEGER), value FROM json_each(?)",
          [Oj.dump(lanes.transform_keys(&:to_s), mode: :strict)]
        )
        connection.instance_variable_set(:@northdrift_lanes, lanes)
      end

      # @param steps [Array<Array(Integer, Integer, Integer)>] number, first span and the one behind the last, for
      #   `JOIN temp.steps ON … >= steps.first AND … < steps.stop`
      def tell_steps(steps)
        Database.rows(
          "CREATE TEMP TABLE IF NOT EXISTS steps (step INTEGER PRIMARY KEY, first INTEGER NOT NULL, stop INTEGER NOT " \
          "NULL)"
        )
        Database.rows("DELETE FROM temp.steps")
        Database.rows(
          "INSERT INTO temp.steps SELECT value ->> 0, value ->> 1, value ->> 2 FROM json_each(?)",
          [Oj.dump(steps, mode: :strict)]
        )
      end
    end
  end
end
