# frozen_string_literal: true

require "socket"

module Northdrift
  module Server
    # Under which names this computer can be reached at an address that it listens on: those that a browser may ask for
    # (see {Guard}), and the one to tell a person.
    class OwnNames
      ALL = %w[0.0.0.0 ::].freeze

      # @param bind [String] address
      # @param further [Array<String>] names that people say it has
      def initialize(bind, further = [])
        @bind = bind
        @further = further
      end

      # @return [Array<String>] as they stand in a Host header (RFC 9110, section 7.2), without the port
      def hosts = [written(@bind), *(reachable? ? own : []), *@further].uniq

      # @return [String] one that works from where it can be reached
      def told
        return written(@bind) unless ALL.include?(@bind)

        @further.first || addresses.find { |address| !address.include?(":") } || Socket.gethostname
      end

      # @return [Boolean] whether it listens to others than this computer
      def reachable?
        ALL.include?(@bind) || !Addrinfo.ip(@bind).then { |one| one.ipv4_loopback? || one.ipv6_loopback? }
      end

      private

      def own = [Socket.gethostname, Socket.gethostname[/\A[^.]+/], *addresses]

      def addresses
        Socket
          .ip_address_list
          .reject { |one| one.ipv4_loopback? || one.ipv6_loopback? || one.ipv6_linklocal? }
          .map { |one| written(one.ip_address) }
      end

      def written(address) = address.include?(":") ? "[#{address}]" : address
    end
  end
end
