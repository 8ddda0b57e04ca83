# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # The lines of a question condensed to patterns, compared with another window when one is named.
      class Patterns < Resource
        MOST = 500
        DAY_US = 86_400_000_000
        # How far back the other window lies; "before" is the one that ends where this one starts.
        WITH = { "day" => DAY_US, "week" => 7 * DAY_US, "month" => 28 * DAY_US }.freeze

        get "/" do
          with = choice("with", ["", "before", *WITH.keys], "")
          asked = question
          started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
          against = with.empty? ? nil : earlier(asked, WITH.fetch(with) { asked.to_us - asked.from_us })
          table = Store::PatternTable.new(asked, against: against).count { problem(499, "gone", "nobody waits for the answer") if gone? }
          json("patterns" => table.rows.first(MOST).map { |row| Present.pattern(row) }, "found" => table.rows.size, "total" => table.total,
               "changes" => table.rows.filter_map(&:change).tally, "start_us" => table.start_us, "step_us" => table.step_us,
               "from_us" => asked.from_us, "to_us" => asked.to_us, "against_from_us" => against&.from_us, "against_to_us" => against&.to_us,
               "milliseconds" => ((Process.clock_gettime(Process::CLOCK_MONOTONIC) - started) * 1000).round(1))
        end

        private

        def earlier(asked, shift_us) = Store::Question.new(**asked.spec.merge(from_us: asked.from_us - shift_us, to_us: asked.to_us - shift_us))
      end
    end
  end
end
