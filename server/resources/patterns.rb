# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # The lines of a question condensed to patterns, compared with another window when one is named.
      class Patterns < Resource
        MOST = 500

        get "/" do
          with = choice("with", ["", *Store::Question::COMPARED_WITH], "")
          asked = question
          started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
          against = with.empty? ? nil : asked.earlier(with)
          table = Store::PatternTable.new(asked, against: against).count { problem(499, "gone", "nobody waits for the answer") if gone? }
          json("patterns" => table.rows.first(MOST).map { |row| Present.pattern(row) }, "found" => table.rows.size, "total" => table.total,
               "changes" => table.rows.filter_map(&:change).tally, "start_us" => table.start_us, "step_us" => table.step_us,
               "from_us" => asked.from_us, "to_us" => asked.to_us, "against_from_us" => against&.from_us, "against_to_us" => against&.to_us,
               "milliseconds" => ((Process.clock_gettime(Process::CLOCK_MONOTONIC) - started) * 1000).round(1))
        end
      end
    end
  end
end
