# frozen_string_literal: true

require "base64"
require "digest"
require "net/http"
require "oj"
require "securerandom"
require "uri"

module Northdrift
  module Server
    module Access
      # Another provider that people log in at (OpenID Connect Core 1.0, section 3.1: the code flow, with RFC 7636).
      class Provider
        # Whom it says that somebody is.
        # @!attribute subject [String] its address and the number there; never that of somebody else
        # @!attribute names [Array<String>] that it vouches for: a user name, an address of mail that was checked
        # @!attribute name [String, nil] for people
        Claims = Struct.new(:subject, :names, :name)

        # It could not be found out who somebody is. The message is for the log.
        class Refused < Error; end

        PLACE = "/.well-known/openid-configuration"
        # Signatures that only the provider can make (RFC 7518, section 3.1).
        ALGORITHMS = %i[RS256 RS384 RS512 PS256 PS384 PS512 ES256 ES384 ES512].freeze
        LOOPBACK = %w[127.0.0.1 localhost ::1].freeze
        SECONDS = 10

        # @param settings [Store::MachineSettings]
        # @return [Provider, nil] nil where none is set
        # @raise [Error] when what is set will not do
        def self.of(settings)
          return if settings.login_issuer.empty?

          new(settings.login_issuer, settings.login_client, settings.login_secret)
        end

        # @param issuer [String] its address
        # @param client [String] what it knows this application as
        # @param secret [String]
        def initialize(issuer, client, secret)
          @issuer = issuer.chomp("/")
          @client = client
          @secret = secret
          raise Error, "login_issuer is no address that begins with https://" unless safe?(URI.parse(@issuer))
        rescue URI::InvalidURIError
          raise Error, "login_issuer is no address"
        end

        # @param back [String] address that the person comes back to
        # @return [Array(String, Hash)] where to send the person, and what is to be known again when they come back
        # @raise [Refused]
        def begin(back)
          pending = %w[state nonce verifier].to_h { |name| [name, SecureRandom.urlsafe_base64(32)] }
          challenge = Base64.urlsafe_encode64(Digest::SHA256.digest(pending["verifier"]), padding: false)
          address = client(back).authorization_uri(
            scope: %i[openid profile email], state: pending["state"], nonce: pending["nonce"],
            code_challenge: challenge, code_challenge_method: "S256"
          )
          [address, pending]
        end

        # @param code [String] that the person brought
        # @param pending [Hash] of {#begin}
        # @param back [String] as it was then
        # @return [Claims]
        # @raise [Refused]
        def finish(code, pending, back)
          client = client(back)
          client.authorization_code = code
          token = told { client.access_token!(:basic, code_verifier: pending["verifier"]) }
          claims(verified(token.id_token, pending["nonce"]))
        end

        private

        # Nobody stands between, or all of it is on this computer.
        def safe?(address)
          return LOOPBACK.include?(address.hostname) if address.instance_of?(URI::HTTP)

          address.is_a?(URI::HTTPS) && !address.hostname.to_s.empty?
        end

        def client(back)
          require "openid_connect"
          OpenIDConnect::Client.new(
            identifier: @client, secret: @secret, redirect_uri: back,
            authorization_endpoint: endpoint("authorization_endpoint"), token_endpoint: endpoint("token_endpoint")
          )
        end

        # OpenID Connect Core 1.0, section 3.1.3.7
        def verified(text, nonce)
          raise Refused, "it gave no identity token" if text.to_s.empty?

          keys = JSON::JWK::Set.new(fetched(endpoint("jwks_uri")))
          told do
            token = OpenIDConnect::ResponseObject::IdToken.new(JSON::JWT.decode(text, keys, ALGORITHMS))
            token.verify!(issuer: configuration["issuer"], client_id: @client, nonce: nonce)
            raise Refused, "its token is for somebody else too" unless [nil, @client].include?(token.azp)
            raise Refused, "its token says not who it is of" if token.sub.to_s.empty?

            token.raw_attributes
          end
        end

        def claims(given)
          names = [given["preferred_username"], (given["email"] if given["email_verified"] == true)]
          Claims.new("#{@issuer} #{given['sub']}", names.grep(String).reject(&:empty?), given["name"])
        end

        def endpoint(name)
          address = configuration[name]
          address.is_a?(String) ? address : raise(Refused, "its configuration has no #{name}")
        end

        # OpenID Connect Discovery 1.0, section 4.3
        def configuration
          @configuration ||= fetched("#{@issuer}#{PLACE}").tap do |found|
            unless found["issuer"].to_s.chomp("/") == @issuer
              raise Refused,
                    "its configuration is of #{found['issuer']}"
            end
          end
        end

        def fetched(address)
          uri = URI.parse(address)
          answer = told do
            Net::HTTP.start(
              uri.hostname, uri.port,
              use_ssl: uri.is_a?(URI::HTTPS), open_timeout: SECONDS, read_timeout: SECONDS
            ) { |http| http.get(uri.request_uri) }
          end
          raise Refused, "#{address} answered #{answer.code}" unless answer.is_a?(Net::HTTPOK)

          object = told { Oj.load(answer.body, mode: :strict) }
          object.is_a?(Hash) ? object : raise(Refused, "#{address} has no JSON object")
        end

        # Whatever goes wrong there is one thing here. What libraries raise has many ancestors.
        def told
          yield
        rescue StandardError => error
          raise if error.is_a?(Refused)

          raise Refused, "#{error.class}: #{error.message.lines.first.to_s.strip}"
        end
      end
    end
  end
end
