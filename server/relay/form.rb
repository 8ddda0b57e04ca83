# frozen_string_literal: true

require "socket"
require "uri"

module Northdrift
  module Server
    module Relay
      # What a person sets a relay up with, and whether it will do.
      module Form
        Unfit = Checks::Unfit
        # RFC 5425, section 4.1; for syslog over TCP there is no assigned port, 514 is common practice.
        PORTS = { "tcp" => 514, "tls" => 6514 }.freeze
        LOCAL = ["localhost", "127.0.0.1", "::1", "0.0.0.0", Socket.gethostname].freeze
        HOST = ->(_, value) { Checks.host(value) }
        PORT = ->(kind, value) { Checks.port(value, PORTS.fetch(kind)) }
        CERTIFICATE = ->(_, value) { Checks.certificate(value) }
        SYSLOG = { "host" => HOST, "port" => PORT }.freeze
        KINDS = {
          "tcp" => SYSLOG, "tls" => SYSLOG.merge("certificate" => CERTIFICATE),
          "http" => {
            "url" => ->(_, value) { Checks.url(value) }, "token" => ->(_, value) { Checks.token(value) },
            "certificate" => CERTIFICATE
          }
        }.freeze

        module_function

        # @param kind [String]
        # @param values [Hash{String=>Object}]
        # @return [Hash{String=>Object}]
        # @raise [Unfit]
        def check(kind, values)
          checks = KINDS[kind] or raise Unfit.new("kind", "there are these kinds: #{KINDS.keys.join(', ')}")
          given = checks.to_h { |name, check| [name, check.call(kind, values[name].to_s.strip)] }
          not_here(kind, given)
          Checks.reachable(*(kind == "http" ? ["url", URI(given["url"]).hostname] : ["host", given["host"]]))
          given
        end

        # What is sent to ourselves would come in, and be sent again.
        def not_here(kind, given)
          host, port =
            kind == "http" ? URI(given["url"]).then { |uri| [uri.hostname, uri.port] } : given.values_at("host", "port")
          return unless LOCAL.include?(host) &&
                        Store::Feed.present.any? { |feed| feed.given["port"] == port && feed.kind != "udp" }

          raise Unfit.new(
            kind == "http" ? "url" : "port", "lines come in here by that port: they would go round for ever"
          )
        end
        private_class_method :not_here
      end
    end
  end
end
