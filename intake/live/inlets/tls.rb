# frozen_string_literal: true

require "openssl"

module Northdrift
  module Intake
    module Live
      module Inlets
        # Syslog over TLS (RFC 5425). A certificate is made on first use; one of one's own may take its place.
        class Tls < Tcp
          HANDSHAKE_SECONDS = 10

          private

          def run
            context # told at once when it cannot be had
            super
          end

          def secured(socket)
            secure = OpenSSL::SSL::SSLSocket.new(socket, context)
            secure.sync_close = true
            # A sender that connects and says nothing must not hold a place for ever.
            Timeout.timeout(HANDSHAKE_SECONDS, OpenSSL::SSL::SSLError) { secure.accept }
            secure
          end

          def context
            @context ||= OpenSSL::SSL::SSLContext.new.tap do |context|
              certificate, key = @office.certificate
              context.min_version = OpenSSL::SSL::TLS1_2_VERSION # RFC 9662, section 4
              context.add_certificate(certificate, key)
            end
          end
        end
      end
    end
  end
end
