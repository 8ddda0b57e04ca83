# frozen_string_literal: true

require "openssl"

module Northdrift
  module Server
    module Relay
      # Whom relays trust: one certificate that was given, or all that the system trusts.
      module Trust
        module_function

        # @param certificate [String, nil] PEM
        # @return [OpenSSL::X509::Store]
        def store(certificate)
          OpenSSL::X509::Store.new.tap do |store|
            if certificate.to_s.empty?
              store.set_default_paths
            else
              store.add_cert(OpenSSL::X509::Certificate.new(certificate))
            end
          end
        end

        # @return [OpenSSL::SSL::SSLContext]
        def context(certificate)
          OpenSSL::SSL::SSLContext.new.tap do |context|
            context.min_version = OpenSSL::SSL::TLS1_2_VERSION
            context.verify_mode = OpenSSL::SSL::VERIFY_PEER
            context.cert_store = store(certificate)
          end
        end
      end
    end
  end
end
