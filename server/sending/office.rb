# frozen_string_literal: true

module Northdrift
  module Server
    module Sending
      # Plans who is told, and keeps a courier going for each route.
      class Office
        LOOK_SECONDS = 0.5

        def initialize
          @planner = Planner.new
          @couriers = Couriers.new("route") { |route| Courier.new(route) }
        end

        # @param stop [#call] returns true when it is time to end
        def run(stop:)
          until stop.call
            planned = attempt { @planner.step }
            @couriers.arrange(Store::AlertRoute.on, stop)
            sleep LOOK_SECONDS unless planned
          end
        ensure
          @couriers.leave
        end

        private

        def attempt
          yield
        rescue StandardError => error
          warn "northdrift: planning messages failed: #{error.message.lines.first.to_s.strip}; it is tried again"
          false
        end
      end
    end
  end
end
