# frozen_string_literal: true

module Northdrift
  module Server
    module Cards
      # Lines by step of time and severity; as lanes, of each machine or service by itself, in order of who turned bad
      # first.
      class Rail < Answer
        NAME = "histogram"
        ROUTE = "GET /api/histogram"
        BINS = 60
        MOST_LANES = 24

        private

        def further = [by]

        def by
          return unless card.kind == "lanes"

          asked("lanes") == "service" ? :service : :machine
        end

        def told(&)
          histogram = question.histogram(by: by, bins: BINS, utc_offset: reader.utc_offset, &)
          {
            "start_us" => histogram.start_us, "step_us" => histogram.step_us, "steps" => histogram.steps,
            "total" => histogram.total, "field" => by && { machine: "host.name", service: "service.name" }.fetch(by),
            "series" => histogram.series.first(MOST_LANES).map do |one|
              { "name" => one.name, "total" => one.total, "counts" => Present.by_step(one) }
            end,
            "others" => [histogram.series.size - MOST_LANES, 0].max,
            "beside" => by || !against ? nil : histogram.beside(against, &).map { |n| n.round(2) }
          }
        end
      end
    end
  end
end
