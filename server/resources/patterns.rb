# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # The lines of a question condensed to patterns, compared with others when they are named.
      class Patterns < Resource
        MOST = 500

        get "/" do
          asked = question
          table = Store::PatternTable.new(asked, against: against(asked))
          survey(table) do
            rows = table.rows
            { "patterns" => rows.first(MOST).map { |row| Present.pattern(row) }, "found" => rows.size, "total" => table.total,
              "changes" => rows.filter_map(&:change).tally, "start_us" => table.start_us, "step_us" => table.step_us }
          end
        end
      end
    end
  end
end
