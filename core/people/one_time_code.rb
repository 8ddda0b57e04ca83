# frozen_string_literal: true

module Northdrift
  module People
    # Codes of six digits that an app tells by the time and by a secret that it shares with us (RFC 6238).
    module OneTimeCode
      ISSUER = "Northdrift"
      CODE = /\A\d{6}\z/
      # Seconds by which the clock of a telephone may be off: one step.
      DRIFT = 30

      module_function

      # @return [String] 160 bits in Base32 (RFC 4648, section 6)
      def secret
        load
        ROTP::Base32.random(20)
      end

      # @param secret [String]
      # @param name [String] of the person
      # @return [String] what such an app takes in
      def uri(secret, name) = totp(secret).provisioning_uri(name)

      # @param secret [String]
      # @param code [String] as it was typed
      # @param at [Integer] seconds since 1970
      # @param after [Integer, nil] seconds since 1970: codes of that step and before were taken (section 5.2)
      # @return [Integer, nil] seconds since 1970 at which the step of the code starts; nil when it is wrong
      def check(secret, code, at:, after: nil)
        code = code.gsub(/\s/, "")
        return unless CODE.match?(code)

        totp(secret).verify(code, at: Time.at(at), after: after, drift_behind: DRIFT, drift_ahead: DRIFT)
      end

      def totp(secret)
        load
        ROTP::TOTP.new(secret, issuer: ISSUER)
      end
      private_class_method :totp

      # Most starts need none.
      def load = require("rotp")
      private_class_method :load
    end
  end
end
