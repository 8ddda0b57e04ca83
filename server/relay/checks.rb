# frozen_string_literal: true

require "openssl"
require "uri"

module Northdrift
  module Server
    module Relay
      # Whether single settings will do with which something is sent to others.
      module Checks
        # A setting will not do.
        class Unfit < Error
          attr_reader :setting

          def initialize(setting, message)
            super(message)
            @setting = setting
          end
        end

        HOST = /\A[\w.:-]{1,253}\z/

        module_function

        def host(value)
          HOST.match?(value) ? value : raise(Unfit.new("host", "say the name or address of a machine"))
        end

        # @param default [Integer] where none is said
        def port(value, default)
          return default if value.empty?

          number = Integer(value, exception: false)
          number&.between?(1, 65_535) ? number : raise(Unfit.new("port", "a port is a number from 1 to 65535"))
        end

        def url(value)
          uri = URI(value)
          uri.is_a?(URI::HTTP) && uri.host ? value : raise(URI::InvalidURIError)
        rescue URI::InvalidURIError
          raise Unfit.new("url", "“#{Text.display(value)}” is no address such as https://logs.example/v1/logs")
        end

        # @param name [String] of the setting
        def token(value, name = "token")
          return value if value.match?(/\A[!-~ ]{0,4000}\z/)

          raise Unfit.new(name, "a #{name} has printable ASCII characters alone")
        end

        # PEM; empty for those that the system trusts.
        def certificate(value)
          OpenSSL::X509::Certificate.new(value) unless value.empty?
          value
        rescue OpenSSL::X509::CertificateError
          raise Unfit.new("certificate", "this is no certificate in PEM, which begins with -----BEGIN CERTIFICATE-----")
        end

        # A name that is not known now may be later.
        # @param setting [String] that has the name
        def reachable(setting, host)
          Reach.address(host)
        rescue Reach::Refused => error
          raise Unfit.new(setting, error.message)
        rescue SocketError
          nil
        end
      end
    end
  end
end
