# frozen_string_literal: true

require "net/http"
require "oj"
require "openssl"

module Northdrift
  module Server
    module Sending
      module Outlets
        # A web hook: the message as JSON (docs/alert-message.schema.json) in a POST. With a secret it is signed, by
        # HTTP Message Signatures (RFC 9421) with hmac-sha256 over method, target and Content-Digest (RFC 9530).
        class Hook
          SECONDS = 20
          LABEL = "northdrift"
          COVERED = %w[@method @target-uri content-digest idempotency-key].freeze

          def self.gather_us = 0

          # @param given [Hash{String=>Object}]
          # @param clock [#call] microseconds
          def initialize(given, clock: -> { Store::Clock.now_us })
            @uri = URI(given["url"])
            @secret = given["secret"].to_s
            @certificate = given["certificate"].to_s
            @clock = clock
          end

          # @param message [Sending::Message]
          # @raise [StandardError] when it has to be tried again
          def send_off(message, _template, _recipient)
            answer = client.start { |http| http.request(request(message)) }
            return if answer.is_a?(Net::HTTPSuccess)

            raise Error, "the other side answered #{answer.code} #{answer.message}"
          end

          # @param message [Sending::Message]
          # @return [Net::HTTP::Post]
          def request(message)
            Net::HTTP::Post.new(@uri.request_uri, "content-type" => "application/json").tap do |post|
              post.body = Oj.dump(message.to_h, mode: :strict)
              post["content-digest"] = "sha-256=:#{[OpenSSL::Digest.digest('SHA256', post.body)].pack('m0')}:"
              # What is tried again has the same one.
              post["idempotency-key"] = "\"#{message.id}\""
              sign(post) unless @secret.empty?
            end
          end

          private

          def client
            Net::HTTP.new(@uri.hostname, @uri.port, nil).tap do |http|
              http.ipaddr = Relay::Reach.address(@uri.hostname)
              http.use_ssl = @uri.is_a?(URI::HTTPS)
              http.cert_store = Relay::Trust.store(@certificate) if http.use_ssl?
              http.open_timeout = http.read_timeout = http.write_timeout = SECONDS
            end
          end

          # RFC 9421, sections 2.5 and 3.1.
          def sign(post)
            covered = COVERED.map { |name| "\"#{name}\"" }.join(" ")
            parameters = "(#{covered});created=#{@clock.call / 1_000_000};alg=\"hmac-sha256\""
            values = { "@method" => "POST", "@target-uri" => @uri.to_s }
            lines = COVERED.map { |name| "\"#{name}\": #{values[name] || post[name]}" }
            base = [*lines, "\"@signature-params\": #{parameters}"].join("\n")
            post["signature-input"] = "#{LABEL}=#{parameters}"
            post["signature"] = "#{LABEL}=:#{[OpenSSL::HMAC.digest('SHA256', @secret, base)].pack('m0')}:"
          end
        end
      end
    end
  end
end
