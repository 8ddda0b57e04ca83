# frozen_string_literal: true

require "warden"

module Northdrift
  module Server
    module Access
      # Rack middleware: finds out who asks, and lets nobody ask anything who has to log in first. What each may do is
      # looked up where a route is met, see {Resource}.
      class Gate
        TOKEN = "HTTP_AUTHORIZATION"
        # RFC 6750, section 2.1
        BEARER = /\ABearer +(\S+)\z/i
        # Pages and their files are everybody's: the one to log in with is among them.
        CLOSED = %r{\A/+(?:api|metrics)(?:/|\z)}

        # @param mode [Mode]
        def initialize(app, mode)
          @app = Sighted.new(app)
          @mode = mode
          manager = Warden::Manager.new(method(:answer), failure_app: ->(_) { refusal }) do |config|
            # What a resource answers stays as it is.
            config.intercept_401 = false
            config.serialize_into_session(&:id)
            # Read with the session, see {Sessions}.
            config.serialize_from_session do |id|
              found = env[Sessions::FOUND]
              found&.person_id == id ? found.person : Store::Person.enabled.find_by(id: id)
            end
          end
          @people = Sessions.new(manager)
        end

        def call(env)
          if @mode.together?
            env.key?(TOKEN) ? program(env) : @people.call(env)
          else
            env[Who::KEY] = Who::ALONE
            @app.call(env)
          end
        end

        private

        # A program has no session, and what it sends is looked at with each request.
        def program(env)
          secret = env[TOKEN].to_s[BEARER, 1]
          token = secret && Store::Token.of(secret) or return refusal
          token.note
          env[Who::KEY] = Who.new(nil, token.role, nil, token)
          @app.call(env)
        end

        def answer(env)
          env[Who::KEY] = who(env)
          return refusal if env[Who::KEY].role.nil? && CLOSED.match?(env["PATH_INFO"]) && !open?(env)

          @app.call(env)
        end

        def who(env)
          person = env["warden"].user
          person ? Who.new(person, person.role, env["rack.session"].id&.private_id) : Who::NOBODY
        end

        def open?(env) = Routes.least("#{env['REQUEST_METHOD']} #{env['PATH_INFO']}") == Routes::ANYBODY

        # RFC 9110, section 11.6.1
        def refusal
          status, headers, body = Problem.answer(401, "not-logged-in", "Unauthorized", "log in first")
          [status, headers.merge("www-authenticate" => "Bearer"), body]
        end
      end
    end
  end
end
