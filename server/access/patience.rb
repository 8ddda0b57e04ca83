# frozen_string_literal: true

require "active_support/cache"
require "oj"
require "rack/attack"

module Northdrift
  module Server
    module Access
      # Who tries passwords is told to wait, by the address that they try from and by the name that they try.
      module Patience
        # Where a password or a code is tried: to log in, and to change with what.
        LOGIN = ["POST", "/api/session"].freeze
        CHANGES =
          [["PUT", "/api/session/password"], *%w[POST PUT DELETE].map { |verb| [verb, "/api/session/factor"] }].freeze
        PERIOD_SECONDS = 60
        # Tries within that time.
        OF_ADDRESS = 30
        OF_NAME = 8
        # One of so many logins takes away what was counted before.
        CLEANED_EACH = 100

        module_function

        # @param dir [String] where tries are counted, for all processes; emptied at the start
        # @return [Class] Rack middleware
        def middleware(dir)
          FileUtils.rm_rf(dir)
          Rack::Attack.cache.store = ActiveSupport::Cache::FileStore.new(dir)
          Rack::Attack.throttle("address", limit: OF_ADDRESS, period: PERIOD_SECONDS) do |request|
            request.env["REMOTE_ADDR"] if [LOGIN, *CHANGES].include?(route(request))
          end
          Rack::Attack.throttle("name", limit: OF_NAME, period: PERIOD_SECONDS) do |request|
            name(request) if route(request) == LOGIN
          end
          Rack::Attack.throttled_responder = method(:refusal)
          Rack::Attack
        end

        # The first that is refused in a period stands for those that follow.
        def note(request)
          Store::AuditTrail.append(
            who: Audit::NOBODY, address: request.env["REMOTE_ADDR"], action: route(request).join(" "),
            target: Text.display(request.env["rack.attack.match_discriminator"].to_s)[0, 500], outcome: 429
          )
        end

        def route(request) = [request.request_method, request.path.squeeze("/").delete_suffix("/")]

        # @return [String, nil] that of a login, as names are compared
        def name(request)
          forget_now_and_then
          text = request.body.read(Resource::MOST_BODY).to_s
          request.body.rewind
          name = Oj.load(text, mode: :strict)["name"]
          Store::Person.key(name) if name.is_a?(String) && name.valid_encoding?
        rescue Oj::ParseError, EncodingError, TypeError, NoMethodError
          nil
        end

        # Counts that are over leave their files behind.
        def forget_now_and_then
          Rack::Attack.cache.store.cleanup if rand(CLEANED_EACH).zero?
        end

        def refusal(request)
          match = request.env["rack.attack.match_data"]
          note(request) if match[:count] == match[:limit] + 1
          seconds = match[:period] - (match[:epoch_time] % match[:period])
          status, headers, body =
            Problem.answer(429, "too-many-logins", "Too Many Requests", "too many tries; wait #{seconds} seconds")
          [status, headers.merge("retry-after" => seconds.to_s), body]
        end
      end
    end
  end
end
