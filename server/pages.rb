# frozen_string_literal: true

require "rack"

module Northdrift
  module Server
    # The built front end. Every address that is no file is a page of the application.
    class Pages
      DIST = File.join(ROOT, "web/dist")
      NONCE_MARK = "__NONCE__"
      FOREVER = "public, max-age=31536000, immutable"

      def initialize(dist = DIST)
        @dist = dist
        @files = Rack::Files.new(dist)
      end

      def call(env)
        path = Rack::Utils.clean_path_info(Rack::Utils.unescape_path(env["PATH_INFO"]))
        return page(env) unless File.file?(File.join(@dist, path))

        status, headers, body = @files.call(env)
        headers["cache-control"] = path.start_with?("/assets/") ? FOREVER : "no-cache"
        [status, headers, body]
      end

      private

      def page(env)
        index = File.join(@dist, "index.html")
        unless File.file?(index)
          return [
            503, { "content-type" => "text/plain; charset=utf-8" }, ["The pages are not built yet: run bin/setup.\n"]
          ]
        end

        html = File.read(index).gsub(NONCE_MARK, env[Guard::NONCE].to_s)
        [200, { "content-type" => "text/html; charset=utf-8", "cache-control" => "no-store" }, [html]]
      end
    end
  end
end
