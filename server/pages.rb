# frozen_string_literal: true

require "rack"

module Northdrift
  module Server
    # The built front end: its files, and its pages, which the application draws by their addresses.
    class Pages
      DIST = File.join(ROOT, "web/dist")
      NONCE_MARK = "__NONCE__"
      # Those of web/src/App.tsx.
      PAGES = %r{\A/(?:now|logbook(?:/restarts|/rules(?:/new)?)?|causes|fleet(?:/map|/availability)?|
                 (?:boards|cases)(?:/[^/]+)?|wall|handover|
                 alerts(?:/quiet|/unusual|/(?:rules|routes)(?:/[^/]+)?)?|people(?:/audit|/teams|/settings)?|welcome|
                 intake(?:/keeping|/relays|/unread|/parsers(?:/[^/]+)?|/noise(?:/new)?)?)?/?\z}x
      METHODS = %w[GET HEAD].freeze
      FOREVER = "public, max-age=31536000, immutable"

      def initialize(dist = DIST)
        @dist = dist
        @files = Rack::Files.new(dist)
      end

      def call(env)
        path = Rack::Utils.unescape_path(env["PATH_INFO"])
        return nothing(path) unless path.valid_encoding? && !path.include?("\0") && METHODS.include?(env["REQUEST_MET" \
                                                                                                         "HOD"])

        path = Rack::Utils.clean_path_info(path)
        return page(env, path) unless File.file?(File.join(@dist, path))

        status, headers, body = @files.call(env)
        headers["cache-control"] = path.start_with?("/assets/") ? FOREVER : "no-cache"
        [status, headers, body]
      end

      private

      # A sender that took this address for that of a feed must not believe that it delivered.
      def nothing(path)
        Problem.not_found("there is no #{Text.display(path)} here; lines are taken in by feeds, at ports of their own")
      end

      # An unknown address has the application too, which leads on.
      def page(env, path)
        index = File.join(@dist, "index.html")
        unless File.file?(index)
          return [
            503, { "content-type" => "text/plain; charset=utf-8" }, ["The pages are not built yet: run bin/setup.\n"]
          ]
        end

        html = File.read(index).gsub(NONCE_MARK, env[Guard::NONCE].to_s)
        status = PAGES.match?(path) ? 200 : 404
        [status, { "content-type" => "text/html; charset=utf-8", "cache-control" => "no-store" }, [html]]
      end
    end
  end
end
