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
          remedies = Store::Case.remedies
          survey(table) do
            rows = table.rows
            {
              "patterns" => rows.first(MOST).map { |row| Present.pattern(row, remedies) }, "found" => rows.size,
              "total" => table.total, "changes" => rows.filter_map(&:change).tally, "start_us" => table.start_us,
              "step_us" => table.step_us
            }
          end
        end

        # One of them, opened.
        get "/:name" do
          id = Store::KnownPatterns.id(params["name"]) if params["name"].match?(Find::Parser::PATTERN)
          unless id && Store::KnownPatterns.current.text(id)
            problem(404, "not-found", "there is no pattern of this name")
          end

          detail = Store::PatternDetail.new(question, id)
          survey(detail) { Present.pattern_detail(detail) }
        end
      end
    end
  end
end
