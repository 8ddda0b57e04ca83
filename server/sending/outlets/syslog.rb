# frozen_string_literal: true

require "socket"

module Northdrift
  module Server
    module Sending
      module Outlets
        # Syslog (RFC 5424) over UDP (RFC 5426), TCP (RFC 6587) or TLS (RFC 5425).
        class Syslog
          # Facility: log alert (RFC 5424, table 1).
          FACILITY = 14
          # Documentation of structured data with a number of our own would need one that is assigned; this one is for
          # documentation (RFC 5612).
          ID = "alert@32473"
          NOTICE = 5
          UDP_BYTES = 2048 # RFC 5424, section 6.1: what receivers should take

          def self.gather_us = 0

          # @param given [Hash{String=>Object}]
          # @param clock [#call] microseconds
          def initialize(given, clock: -> { Store::Clock.now_us })
            @given = given
            @clock = clock
          end

          # @param message [Sending::Message]
          # @param template [Sending::Template]
          # @raise [StandardError] when it has to be tried again
          def send_off(message, template, _recipient)
            record = record(message.to_h, template)
            return datagram(record) if @given["transport"] == "udp"

            stream = Relay::Outlets::Syslog.new(@given, tls: @given["transport"] == "tls")
            stream.send_off([record])
          ensure
            stream&.close
          end

          # @return [String]
          def record(values, template)
            alert = values["alerts"].first
            severity = values["occasion"] == "back" ? NOTICE : [alert["severity_code"], 7].min
            time = Time.at(0, @clock.call, :microsecond, in: "UTC").strftime("%Y-%m-%dT%H:%M:%S.%6NZ")
            "<#{(FACILITY * 8) + severity}>1 #{time} #{name(Socket.gethostname)} northdrift #{Process.pid} alert " \
              "[#{ID} #{parameters(values, alert)}] \uFEFF#{template.subject(values)}"
          end

          private

          def parameters(values, alert)
            {
              "occasion" => values["occasion"], "id" => alert["id"], "rule" => alert["name"],
              "machine" => alert["machine"], "since" => alert["since"], "link" => alert["link"]
            }.compact.map { |name, value| "#{name}=\"#{value.to_s.gsub(/["\\\]]/) { |sign| "\\#{sign}" }}\"" }.join(" ")
          end

          # RFC 5424, section 6.2.4: printable ASCII.
          def name(host) = host.gsub(/[^!-~]/, "-")[0, 255]

          def datagram(record)
            address = Relay::Reach.address(@given["host"])
            UDPSocket.open(Addrinfo.ip(address).afamily) do |socket|
              socket.send(record.byteslice(0, UDP_BYTES).scrub(""), 0, address, @given["port"])
            end
          end
        end
      end
    end
  end
end
