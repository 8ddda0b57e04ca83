# frozen_string_literal: true

module Northdrift
  module Server
    module Relay
      # Keeps a courier going for each relay, and the queue short.
      class Office
        LOOK_SECONDS = 1
        TIDY_SECONDS = 10

        def initialize
          @couriers = {}
          @tidied = 0
        end

        # @param stop [#call] returns true when it is time to end
        def run(stop:)
          until stop.call
            arrange(stop)
            tidy
            sleep LOOK_SECONDS
          end
        ensure
          @couriers.each_value { |courier| courier[:ends] = true }.each_value { |courier| courier.join(5) }
        end

        private

        # Starts those that are wanted, and ends those that changed or are not wanted any more.
        def arrange(stop)
          wanted = Store::Relay.present.where(paused: false).index_by(&:state)
          @couriers.delete_if { |state, courier| !courier.alive? || (!wanted.key?(state) && (courier[:ends] = true)) }
          wanted.each { |state, relay| @couriers[state] ||= start(relay, stop) }
        end

        def start(relay, stop)
          Thread.new do
            courier = Thread.current
            Courier.new(relay).run(stop: -> { stop.call || courier[:ends] })
          rescue StandardError => error
            warn "northdrift: relay #{relay.id}: #{error.message.lines.first.to_s.strip}"
          ensure
            ActiveRecord::Base.connection_handler.clear_active_connections!
          end
        end

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
