# frozen_string_literal: true

require "ipaddr"
require "socket"

module Northdrift
  module Server
    module Relay
      # Where lines may be sent on to: to addresses of the internet, and inside only to what the settings file lists.
      # Otherwise who may set up forwarding could speak to every service behind the firewall in this computer's name.
      module Reach
        # Nobody else's (IANA IPv4 and IPv6 Special-Purpose Address Registries), among them those where cloud machines
        # ask for their secrets.
        INSIDE = %w[
          0.0.0.0/8 10.0.0.0/8 100.64.0.0/10 127.0.0.0/8 169.254.0.0/16 172.16.0.0/12 192.0.0.0/24 192.168.0.0/16
          198.18.0.0/15 224.0.0.0/4 240.0.0.0/4 ::/127 64:ff9b::/96 64:ff9b:1::/48 fc00::/7 fe80::/10 ff00::/8
        ].map { |network| IPAddr.new(network) }.freeze

        Refused = Class.new(Error)

        module_function

        # @param host [String] name or address
        # @return [String] the address to connect to: the name is not looked up again, so that it cannot lead elsewhere
        # @raise [Refused] where all of its addresses are inside and not listed
        # @raise [SocketError] where there is no such name
        def address(host)
          addresses = Addrinfo.getaddrinfo(host.delete("[]"), nil, nil, :STREAM).map(&:ip_address).uniq
          addresses.find { |one| allowed?(host, one) } or
            raise Refused, "#{host} is #{addresses.first}, an address inside; list it under “forward” in " \
                           "#{Store::MachineSettings.path}"
        end

        def allowed?(host, address)
          ip = IPAddr.new(address.sub(/%.*/, "")).native
          listed = Store::MachineSettings.current.forward
          listed.include?(host) || listed.any? { |one| listed?(one, ip) } || INSIDE.none? do |network|
            network.include?(ip)
          end
        end
        private_class_method :allowed?

        def listed?(one, address)
          IPAddr.new(one).include?(address)
        rescue IPAddr::Error
          false # a name
        end
        private_class_method :listed?
      end
    end
  end
end
