# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      module Inlets
        # Notifications of devices by SNMP over UDP (RFC 3417, section 3): each is a line. An inform is answered when it
        # has been read.
        class Snmp < Udp
          private

          # @return [String, nil] nil for what is no notification, or one that cannot be read: it is told and counted
          def text(datagram, sender)
            trap = Reading::SnmpTrap.new(datagram)
            answer(trap, sender)
            @office.problem(@feed, nil)
            Reading::TrapLine.new(trap, @office.mib, sender.ip_address, Store::Clock.now).to_s.b
          rescue Reading::SnmpTrap::Unread => error
            @office.count(@feed, :refused)
            @office.problem(@feed, "a datagram of #{sender.ip_address} was not taken: #{error.message}")
            nil
          end

          def answer(trap, sender)
            answer = trap.answer and @server.sendmsg_nonblock(answer, 0, sender, exception: false)
          rescue SystemCallError
            nil # it comes again
          end
        end
      end
    end
  end
end
