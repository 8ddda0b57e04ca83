# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # The words of a question's lines.
      class Words < Resource
        MOST = 300

        get "/" do
          asked = question
          table = Store::WordTable.new(asked, against: against(asked))
          survey(table) do
            rows = table.rows
            {
              "words" => rows.first(MOST).map { |row| Present.word(row) }, "found" => table.distinct,
              "total" => table.total, "changes" => rows.filter_map(&:change).tally
            }
          end
        end
      end
    end
  end
end
