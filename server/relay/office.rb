# frozen_string_literal: true

module Northdrift
  module Server
    module Relay
      # Keeps a courier going for each relay, and the queue short.
      class Office
        LOOK_SECONDS = 1
        TIDY_SECONDS = 10

        def initialize
          @couriers = Couriers.new("relay") { |relay| Courier.new(relay) }
          @tidied = 0
        end

        # @param stop [#call] returns true when it is time to end
        def run(stop:)
          until stop.call
            @couriers.arrange(Store::Relay.present.where(paused: false), stop)
            tidy
            sleep LOOK_SECONDS
          end
        ensure
          @couriers.leave
        end

        private

        def tidy
          now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
          return if now - @tidied < TIDY_SECONDS

          @tidied = now
          Store::RelayQueue.tidy
        end
      end
    end
  end
end
