# frozen_string_literal: true

require "ipaddr"

module Northdrift
  module Server
    module Access
      # Rack middleware: who asks through a proxy that is known has the address and the scheme that the proxy tells;
      # what anybody else says of that is not looked at. (Common practice; X-Forwarded-For is no standard, RFC 7239 is
      # its successor.)
      class Proxies
        TOLD = %w[
          HTTP_X_FORWARDED_FOR HTTP_X_FORWARDED_PROTO HTTP_X_FORWARDED_SCHEME HTTP_X_FORWARDED_SSL
          HTTP_X_FORWARDED_HOST HTTP_X_FORWARDED_PORT HTTP_FORWARDED
        ].freeze
        FOR, SCHEME = TOLD
        SCHEMES = %w[http https].freeze

        # @param trusted [Array<String>] addresses and networks of proxies
        # @raise [Error] saying which is none
        def initialize(app, trusted: [])
          @app = app
          @trusted = trusted.map { |text| Proxies.network(text) }
        end

        # @param text [String] an address, or a network
        # @return [IPAddr]
        # @raise [Error]
        def self.network(text)
          IPAddr.new(text)
        rescue IPAddr::Error
          raise Error, "“#{Text.display(text)}” is no address of a proxy, such as 10.40.0.2 or 10.40.0.0/24"
        end

        def call(env)
          believe(env) if trusted?(env["REMOTE_ADDR"])
          TOLD.each { |name| env.delete(name) }
          @app.call(env)
        end

        private

        def believe(env)
          # Each proxy adds whom it was asked by; what stands before that anybody may have written.
          asked = env[FOR].to_s.split(",").map(&:strip).reverse
          from = asked.find { |address| !trusted?(address) } || asked.last
          env["REMOTE_ADDR"] = from if from && address(from)
          scheme = env[SCHEME].to_s.split(",").last.to_s.strip.downcase
          env["rack.url_scheme"] = scheme if SCHEMES.include?(scheme)
        end

        def trusted?(text)
          one = address(text.to_s)
          !one.nil? && @trusted.any? { |network| network.include?(one) }
        end

        def address(text)
          IPAddr.new(text).native
        rescue IPAddr::Error
          nil
        end
      end
    end
  end
end
