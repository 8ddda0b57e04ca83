# frozen_string_literal: true

require "openssl"
require "uri"

module Northdrift
  module Server
    module Relay
      # What a person sets a relay up with, and whether it will do.
      module Form
        # A setting will not do.
        class Unfit < Error
          attr_reader :setting

          def initialize(setting, message)
            super(message)
            @setting = setting
          end
        end

        SYSLOG = { "host" => :host, "port" => :port }.freeze
        KINDS = {
          "tcp" => SYSLOG, "tls" => SYSLOG.merge("certificate" => :certificate),
          "http" => { "url" => :url, "token" => :token, "certificate" => :certificate }
        }.freeze
        # RFC 5425, section 4.1; for syslog over TCP there is no assigned port, 514 is common practice.
        PORTS = { "tcp" => 514, "tls" => 6514 }.freeze
        HOST = /\A[\w.:-]{1,253}\z/
        LOCAL = ["localhost", "127.0.0.1", "::1", "0.0.0.0", Socket.gethostname].freeze

        module_function

        # @param kind [String]
        # @param values [Hash{String=>Object}]
        # @return [Hash{String=>Object}]
        # @raise [Unfit]
        def check(kind, values)
          checks = KINDS[kind] or raise Unfit.new("kind", "there are these kinds: #{KINDS.keys.join(', ')}")
          checks
            .to_h { |name, check| [name, send(check, kind, values[name].to_s.strip)] }
            .tap { |given| not_here(kind, given) && reachable(kind, given) }
        end

        def host(_, value)
          HOST.match?(value) ? value : raise(Unfit.new("host", "say the name or address of a machine"))
        end
        private_class_method :host

        def port(kind, value)
          return PORTS.fetch(kind) if value.empty?

          number = Integer(value, exception: false)
          number&.between?(1, 65_535) ? number : raise(Unfit.new("port", "a port is a number from 1 to 65535"))
        end
        private_class_method :port

        def url(_, value)
          uri = URI(value)
          uri.is_a?(URI::HTTP) && uri.host ? value : raise(URI::InvalidURIError)
        rescue URI::InvalidURIError
          raise Unfit.new("url", "“#{Text.display(value)}” is no address such as https://logs.example/v1/logs")
        end
        private_class_method :url

        def token(_, value)
          unless value.match?(/\A[!-~ ]{0,4000}\z/)
            raise(Unfit.new("token", "a token has printable ASCII characters alone"))
          end

          value
        end
        private_class_method :token

        # PEM; empty for those that the system trusts.
        def certificate(_, value)
          OpenSSL::X509::Certificate.new(value) unless value.empty?
          value
        rescue OpenSSL::X509::CertificateError
          raise Unfit.new("certificate", "this is no certificate in PEM, which begins with -----BEGIN CERTIFICATE-----")
        end
        private_class_method :certificate

        # What is sent to ourselves would come in, and be sent again.
        def not_here(kind, given)
          host, port =
            kind == "http" ? URI(given["url"]).then { |uri| [uri.hostname, uri.port] } : given.values_at("host", "port")
          unless LOCAL.include?(host) &&
                 Store::Feed.present.any? { |feed| feed.given["port"] == port && feed.kind != "udp" }
            return true
          end

          raise Unfit.new(
            kind == "http" ? "url" : "port", "lines come in here by that port: they would go round for ever"
          )
        end
        private_class_method :not_here

        # A name that is not known now may be later.
        def reachable(kind, given)
          Reach.address(kind == "http" ? URI(given["url"]).hostname : given["host"])
        rescue Reach::Refused => error
          raise Unfit.new(kind == "http" ? "url" : "host", error.message)
        rescue SocketError
          nil
        end
        private_class_method :reachable
      end
    end
  end
end
