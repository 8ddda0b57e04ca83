# frozen_string_literal: true

module Northdrift
  module Server
    module Cards
      # Which machines cannot do without which, and how they are now.
      class FleetMap < Answer
        NAME = "map"
        ROUTE = "GET /api/fleet/map"

        def weight(_events) = 0

        private

        def told = Present::Fleet.map(Store::FleetReport.new(reader.now_us))
      end
    end
  end
end
