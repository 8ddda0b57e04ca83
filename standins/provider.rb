# frozen_string_literal: true

require "base64"
require "digest"
require "erb"
require "json/jwt"
require "oj"
require "rack"

module Northdrift
  module Standins
    # A provider that made-up people log in at: as much of OpenID Connect Core 1.0 (the code flow), Discovery 1.0 and
    # RFC 7636 as a login needs, with keys of its own. It asks for no password.
    class Provider
      CLIENT = "northdrift"
      SECRET = "made-up-secret"
      PEOPLE = [
        { "sub" => "17", "preferred_username" => "sunniva", "name" => "Sunniva Strand" },
        {
          "sub" => "18", "preferred_username" => "torbjorn", "name" => "Torbjørn Vik",
          "email" => "torbjorn@tarnholm.example", "email_verified" => true
        }
      ].freeze
      CODE_SECONDS = 60
      TOKEN_SECONDS = 300

      # Answers on this computer until it is stopped, and says what to set.
      # @param port [Integer]
      def self.serve(port)
        require "puma"
        issuer = "http://127.0.0.1:#{port}"
        server = Puma::Server.new(new(issuer), nil, { log_writer: Puma::LogWriter.null })
        server.add_tcp_listener("127.0.0.1", port)
        puts "login_issuer: #{issuer}", "login_client: #{CLIENT}", "login_secret: #{SECRET}"
        $stdout.flush
        server.run.join
      end

      # A login on its way.
      Grant = Struct.new(:person, :asked, :expires)

      # @param issuer [String] its own address
      # @param people [Array<Hash>] claims of each
      # @yieldparam claims [Hash] of an identity token; what the block returns stands in the token, or is one
      def initialize(issuer, people: PEOPLE, &alter)
        @issuer = issuer
        @people = people
        @alter = alter || ->(claims) { claims }
        @key = OpenSSL::PKey::RSA.new(2048)
        @grants = {}
      end

      # @return [OpenSSL::PKey::RSA]
      attr_reader :key

      # @param env [Hash] Rack environment
      # @return [Array] Rack response
      def call(env)
        request = Rack::Request.new(env)
        case [request.request_method, request.path]
        when %w[GET /.well-known/openid-configuration] then json(configuration)
        when %w[GET /keys] then json("keys" => [JSON::JWK.new(@key.public_key, kid: "1", use: "sig", alg: "RS256")])
        when %w[GET /login] then page(request.params)
        when %w[GET /chosen] then chosen(request.params)
        when %w[POST /token] then token(request)
        else [404, {}, []]
        end
      end

      private

      def configuration
        {
          "issuer" => @issuer, "authorization_endpoint" => "#{@issuer}/login", "token_endpoint" => "#{@issuer}/token",
          "jwks_uri" => "#{@issuer}/keys", "response_types_supported" => ["code"],
          "subject_types_supported" => ["public"], "id_token_signing_alg_values_supported" => ["RS256"]
        }
      end

      def page(asked)
        links = @people.map do |person|
          query = Rack::Utils.build_query(asked.merge("sub" => person["sub"]))
          "<li><a href=\"/chosen?#{ERB::Util.h(query)}\">#{ERB::Util.h(person['name'])}</a></li>"
        end
        head = "<!doctype html><meta charset=utf-8><link rel=icon href=data:,><title>Who are you?</title>"
        body = "#{head}<h1>Who are you?</h1><ul>#{links.join}</ul>"
        [200, { "content-type" => "text/html; charset=utf-8" }, [body]]
      end

      def chosen(asked)
        person = @people.find { |one| one["sub"] == asked["sub"] }
        code = SecureRandom.urlsafe_base64(24)
        @grants[code] = Grant.new(person, asked, Time.now + CODE_SECONDS)
        answer = Rack::Utils.build_query("code" => code, "state" => asked["state"])
        [302, { "location" => "#{asked['redirect_uri']}?#{answer}" }, []]
      end

      # A code is good once, for who asked for it.
      def token(request)
        grant = @grants.delete(request.params["code"])
        return json({ "error" => "invalid_client" }, 401) unless client?(request)
        return json({ "error" => "invalid_grant" }, 400) unless grant && fits?(grant, request.params)

        made = @alter.call(claims(grant))
        made = JSON::JWT.new(made).tap { |jwt| jwt.kid = "1" }.sign(@key, :RS256).to_s if made.is_a?(Hash)
        json("access_token" => SecureRandom.hex, "token_type" => "Bearer", "id_token" => made)
      end

      def client?(request)
        given = Rack::Auth::Basic::Request.new(request.env)
        given.provided? && given.basic? && given.credentials == [CLIENT, SECRET]
      end

      def fits?(grant, given)
        grant.expires > Time.now && grant.asked["redirect_uri"] == given["redirect_uri"] &&
          grant.asked["code_challenge"] ==
            Base64.urlsafe_encode64(Digest::SHA256.digest(given["code_verifier"].to_s), padding: false)
      end

      def claims(grant)
        now = Time.now.to_i
        grant.person.merge(
          "iss" => @issuer, "aud" => CLIENT, "iat" => now, "exp" => now + TOKEN_SECONDS, "nonce" => grant.asked["nonce"]
        )
      end

      def json(object, status = 200) = [status, { "content-type" => "application/json" }, [JSON.generate(object)]]
    end
  end
end
