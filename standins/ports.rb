# frozen_string_literal: true

require "snmp"

module Northdrift
  module Standins
    # A switch whose ports go down and come up with the notebooks that are put to them, and that says so by SNMP
    # notifications. A simulated stand-in.
    module Ports
      DEVICE = "sw-tar-1"
      PATH = "#{DEVICE}/ports.trap".freeze
      EVERY_SECONDS = 600
      # For so long one is down.
      AWAY_SECONDS = 45
      DESKS = 6
      # RFC 3418 and RFC 2863: what a notification has of a port.
      TRAPS = { "down" => "1.3.6.1.6.3.1.1.5.3", "up" => "1.3.6.1.6.3.1.1.5.4" }.freeze
      OBJECTS = { index: "1.3.6.1.2.1.2.2.1.1", descr: "1.3.6.1.2.1.2.2.1.2", oper: "1.3.6.1.2.1.2.2.1.8" }.freeze
      STATUS = { "up" => 1, "down" => 2 }.freeze
      SYS_NAME = "1.3.6.1.2.1.1.5.0"

      module_function

      # @param from [Time]
      # @param to [Time]
      # @return [Array<Array(Time, String, String)>] time, path, and "up 3" or "down 3"
      def changes(from, to)
        ((from.to_i / EVERY_SECONDS)..(to.to_i / EVERY_SECONDS)).flat_map do |turn|
          away = Time.at(turn * EVERY_SECONDS)
          [["down", away], ["up", away + AWAY_SECONDS]].map { |state, at| [at, PATH, "#{state} #{1 + (turn % DESKS)}"] }
        end.select { |at, *| at >= from && at < to }
      end

      # @param change [String] see {changes}
      def notify(change, address, port)
        state, desk = change.split
        SNMP::Manager.open(host: address, trap_port: port, community: "public", version: :SNMPv2c,
                           mib_modules: []) do |manager|
          manager.trap_v2(uptime, TRAPS.fetch(state), objects(state, desk.to_i))
        end
      end

      def uptime = (Process.clock_gettime(Process::CLOCK_BOOTTIME) * 100).to_i % (1 << 32)
      private_class_method :uptime

      def objects(state, desk)
        values = {
          SYS_NAME => SNMP::OctetString.new(DEVICE), "#{OBJECTS[:index]}.#{desk}" => SNMP::Integer.new(desk),
          "#{OBJECTS[:descr]}.#{desk}" => SNMP::OctetString.new("desk #{desk}"),
          "#{OBJECTS[:oper]}.#{desk}" => SNMP::Integer.new(STATUS.fetch(state))
        }
        values.map { |oid, value| SNMP::VarBind.new(SNMP::ObjectId.new(oid), value) }
      end
      private_class_method :objects
    end
  end
end
