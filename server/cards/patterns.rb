# frozen_string_literal: true

module Northdrift
  module Server
    module Cards
      # The patterns of the lines, the most surprising first where they are compared.
      class Patterns < Answer
        NAME = "patterns"
        ROUTE = "GET /api/patterns"
        MOST = 40

        private

        def told(&)
          table = Store::PatternTable.new(question, against: against).count(&)
          rows = table.rows
          {
            "rows" => rows.first(MOST).map { |row| Present.pattern(row) }, "found" => rows.size,
            "total" => table.total
          }
        end
      end
    end
  end
end
