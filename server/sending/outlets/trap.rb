# frozen_string_literal: true

require "snmp"

module Northdrift
  module Server
    module Sending
      module Outlets
        # An SNMPv2c notification (RFC 3416, section 4.2.6; RFC 1901), as docs/NORTHDRIFT-MIB.txt has it.
        class Trap
          # The enterprise number for documentation (RFC 5612), until one is assigned.
          ROOT = "1.3.6.1.4.1.32473.1"
          NOTIFICATIONS = { "back" => "#{ROOT}.0.2" }.freeze
          RAISED = "#{ROOT}.0.1".freeze
          # Of a value: more would make datagrams that are torn apart on their way.
          MOST = 255
          # By the number of each object.
          OBJECTS = {
            1 => "id", 2 => "name", 3 => "severity_code", 4 => "where", 5 => "since", 6 => "cause", 7 => "link"
          }.freeze

          def self.gather_us = 0

          # @param given [Hash{String=>Object}]
          def initialize(given)
            @given = given
          end

          # @param message [Sending::Message]
          def send_off(message, _template, _recipient)
            SNMP::Manager.open(
              host: Relay::Reach.address(@given["host"]), trap_port: @given["port"], community: @given["secret"],
              version: :SNMPv2c, mib_modules: []
            ) do |manager|
              message.alerts.each do |alert|
                manager.trap_v2(ticks, NOTIFICATIONS.fetch(message.occasion, RAISED), objects(alert))
              end
            end
          end

          private

          # TimeTicks: hundredths of a second since this computer started.
          def ticks = (Process.clock_gettime(Process::CLOCK_BOOTTIME) * 100).to_i % (1 << 32)

          def objects(alert)
            OBJECTS.map do |number, name|
              value = alert[name]
              kept = value.is_a?(Integer) ? SNMP::Integer.new(value) : SNMP::OctetString.new(text(value))
              SNMP::VarBind.new(SNMP::ObjectId.new("#{ROOT}.1.#{number}.0"), kept)
            end
          end

          def text(value) = value.to_s.byteslice(0, MOST).scrub("")
        end
      end
    end
  end
end
