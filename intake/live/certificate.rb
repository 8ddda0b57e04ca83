# frozen_string_literal: true

require "openssl"
require "socket"

module Northdrift
  module Intake
    module Live
      # The certificate of this collector and its key (RFC 5280), in two PEM files that a person may replace; made on
      # first use, signed by itself.
      module Certificate
        YEARS = 3
        FILES = { certificate: "collector.crt", key: "collector.key" }.freeze

        module_function

        # @param dir [String] data folder
        # @return [Array(OpenSSL::X509::Certificate, OpenSSL::PKey::PKey)]
        # @raise [Error]
        def load(dir)
          paths = FILES.transform_values { |name| File.join(dir, name) }
          make(paths) unless paths.values.all? { |path| File.exist?(path) }
          [OpenSSL::X509::Certificate.new(File.read(paths[:certificate])), OpenSSL::PKey.read(File.read(paths[:key]))]
        rescue OpenSSL::OpenSSLError => error
          raise Error, "the certificate #{paths[:certificate]} or its key cannot be read: #{error.message}"
        end

        def make(paths)
          key = OpenSSL::PKey::EC.generate("prime256v1")
          certificate = signed(key)
          File.write(paths[:key], key.to_pem, perm: 0o600)
          File.write(paths[:certificate], certificate.to_pem)
        end
        private_class_method :make

        def signed(key)
          name = OpenSSL::X509::Name.new([["CN", Socket.gethostname]])
          OpenSSL::X509::Certificate.new.tap do |certificate|
            certificate.version = 2
            certificate.serial = OpenSSL::BN.rand(120)
            certificate.subject = certificate.issuer = name
            certificate.not_before = Time.now - 3600
            certificate.not_after = Time.now + (YEARS * 365 * 86_400)
            certificate.public_key = key
            factory = OpenSSL::X509::ExtensionFactory.new(certificate, certificate)
            certificate.add_extension(factory.create_extension("basicConstraints", "CA:FALSE", true))
            certificate.add_extension(
              factory.create_extension("subjectAltName", "DNS:#{Socket.gethostname},DNS:localhost,IP:127.0.0.1")
            )
            certificate.sign(key, OpenSSL::Digest.new("SHA256"))
          end
        end
        private_class_method :signed
      end
    end
  end
end
