# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # How many machines a sender may name within an hour. Names are what a sender says, and whoever may send could
      # invent them without end; each would be one of the fleet.
      class MachineLimit
        MOST = 1000
        HOUR_US = 3_600_000_000

        # @param stream [Stream]
        # @return [String] what lines of further machines are filed under
        def self.rest(stream) = "more machines of #{stream.place || stream.name}"

        def initialize
          @named = {}
        end

        # @param stream [Stream]
        # @param machine [String] as a line of it names it
        # @param received_us [Integer]
        # @return [Boolean] whether it is one of so many
        def admits?(stream, machine, received_us)
          hour = received_us / HOUR_US
          @named.clear unless hour == @hour
          @hour = hour
          names = @named[[stream.feed_id, stream.name]] ||= Set.new
          names.include?(machine) || (names.size < (stream.machines || MOST) && !names.add(machine).nil?)
        end
      end
    end
  end
end
