# frozen_string_literal: true

require "securerandom"

module Northdrift
  module Server
    # Rack middleware. Answers only to its own names (against DNS rebinding), takes changes only from its own pages
    # (Fetch standard: the Origin header; Fetch Metadata Request Headers: Sec-Fetch-Site), and says what a page may load
    # (Content Security Policy Level 3).
    class Guard
      NONCE = "northdrift.nonce"
      SAFE = %w[GET HEAD OPTIONS].freeze
      # For a year (RFC 6797).
      ONLY_SECURE = { "strict-transport-security" => "max-age=31536000" }.freeze
      LOCAL = %w[127.0.0.1 localhost [::1]].freeze

      # @param hosts [Array<String>] further names it answers to
      def initialize(app, hosts: [])
        @app = app
        @hosts = LOCAL + hosts.map(&:downcase)
      end

      def call(env)
        host = env["HTTP_HOST"].to_s
        unless @hosts.include?(host.sub(/:\d+\z/, "").downcase)
          return refuse(
            421, "this server does not answer to the name “#{Text.display(host)}”; serve --name adds a name"
          )
        end

        secure = env["rack.url_scheme"] == "https"
        unless SAFE.include?(env["REQUEST_METHOD"]) || own_page?(env, "#{secure ? 'https' : 'http'}://#{host}")
          return refuse(403, "changes are taken from this application's own pages only")
        end

        nonce = env[NONCE] = SecureRandom.base64(18)
        status, headers, body = @app.call(env)
        [status, headers.merge(security(nonce).merge(secure ? ONLY_SECURE : {})), body]
      end

      private

      # Programs that are no browser send neither header.
      def own_page?(env, own)
        [nil, own].include?(env["HTTP_ORIGIN"]) &&
          [nil, "same-origin", "none"].include?(env["HTTP_SEC_FETCH_SITE"])
      end

      def security(nonce)
        {
          "content-security-policy" =>
            "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-#{nonce}'; img-src 'self' data:; " \
            "font-src 'self'; " \
            "connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'",
          "x-content-type-options" => "nosniff", "referrer-policy" => "no-referrer",
          "cross-origin-opener-policy" => "same-origin", "cross-origin-resource-policy" => "same-origin"
        }
      end

      def refuse(status, detail) = Problem.answer(status, "refused", "Refused", detail)
    end
  end
end
