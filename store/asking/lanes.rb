# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Tells the database which kinds are to be counted as one, in a table of this connection alone.
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
    end
  end
end
