# frozen_string_literal: true

require "openssl"

module Northdrift
  module Server
    # The certificate of the pages and its key, in two PEM files (RFC 7468).
    class TlsFiles
      # @param certificate [String, nil] path; further certificates that lead to an authority may follow in it
      # @param key [String, nil] path
      # @return [TlsFiles, nil] nil where neither is given
      # @raise [Error] when they will not do
      def self.of(certificate, key)
        return if certificate.to_s.empty? && key.to_s.empty?
        if certificate.to_s.empty? || key.to_s.empty?
          raise Error, "a certificate and its key are wanted, both: --tls-cert FILE --tls-key FILE"
        end

        new(File.expand_path(certificate), File.expand_path(key)).tap(&:check)
      end

      # @return [String] path
      attr_reader :certificate, :key

      def initialize(certificate, key)
        @certificate = certificate
        @key = key
      end

      # @raise [Error]
      def check
        certificate = read(@certificate, "certificate") { |text| OpenSSL::X509::Certificate.new(text) }
        key = read(@key, "key") { |text| OpenSSL::PKey.read(text, "") }
        unless certificate.check_private_key(key)
          raise Error,
                "the key #{@key} is not that of the certificate #{@certificate}"
        end
        return if Time.now.between?(certificate.not_before, certificate.not_after)

        raise Error, "the certificate #{@certificate} holds from #{certificate.not_before} to #{certificate.not_after}"
      end

      # @return [Integer]
      def days_left = ((OpenSSL::X509::Certificate.new(File.read(@certificate)).not_after - Time.now) / 86_400).floor

      # @return [String] where Puma listens, and how
      def bind(address, port)
        Puma::DSL.ssl_bind_str(
          address, port, { cert: @certificate, key: @key, verify_mode: "none", no_tlsv1: true, no_tlsv1_1: true }
        )
      end

      private

      def read(path, what)
        yield File.read(path)
      rescue SystemCallError, OpenSSL::OpenSSLError => error
        raise Error, "the #{what} #{path} cannot be read: #{error.message.lines.first.to_s.strip}"
      end
    end
  end
end
