# frozen_string_literal: true

module Northdrift
  module Store
    # When machines started, read from the lines that only a starting system writes.
    module Boots
      # First lines of the kernel, of systemd, of a Windows event log (event 6005), of network devices; common practice.
      SIGNS =
        '"linux version" or "booting linux" or "event log service was started" or "event 6005" or "system restarted" ' \
        'or "system startup"'

      module_function

      # @param machine [String]
      # @return [Integer, nil] microseconds UTC
      def latest(machine)
        quoted = machine.gsub(/["\\]/, "")
        Question.new(find: "host.name = \"#{quoted}\" and (#{SIGNS})").page(last: true, limit: 1).events.first&.time_us
      end
    end
  end
end
