# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Counts by time and severity, for the rail. It counts in pieces, and stops when the one who asked has closed the
      # connection.
      class Histogram < Resource
        get "/" do
          by = choice("by", ["", "machine", "service"], "")
          asked = question
          started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
          histogram =
            asked.histogram(
              by: by.empty? ? nil : by.to_sym, bins: integer("bins", 1..MOST_BINS, 96),
              utc_offset: integer("utc_offset", -86_400..86_400, 0), fold: choice("fold", %w[yes no], "no") == "yes"
            ) { problem(499, "gone", "nobody waits for the answer") if gone? }
          other = against(asked)
          beside = other && histogram.beside(other) { problem(499, "gone", "nobody waits for the answer") if gone? }
          json(
            Present.histogram(histogram).merge(
              "beside" => beside&.map { |n| n.round(2) }, "from_us" => asked.from_us, "to_us" => asked.to_us,
              "milliseconds" => ((Process.clock_gettime(Process::CLOCK_MONOTONIC) - started) * 1000).round(1)
            )
          )
        end
      end
    end
  end
end
