# frozen_string_literal: true

module Northdrift
  module Server
    module Cards
      # The words of the lines.
      class Words < Answer
        NAME = "words"
        ROUTE = "GET /api/words"
        MOST = 60

        private

        def told(&)
          table = Store::WordTable.new(question, against: against).count(&)
          {
            "rows" => table.rows.first(MOST).map { |row| Present.word(row) }, "found" => table.distinct,
            "total" => table.total
          }
        end
      end
    end
  end
end
