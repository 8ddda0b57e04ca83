# frozen_string_literal: true

require "warden"

module Northdrift
  module Server
    module Access
      # Rack middleware: finds out who asks, and lets nobody ask anything who has to log in first. What each may do is
      # looked up where a route is met, see {Resource}.
      class Gate
        # Pages and their files are everybody's: the one to log in with is among them.
        CLOSED = %r{\A/+api(?:/|\z)}

        # @param mode [Mode]
        def initialize(app, mode)
          @app = app
          @mode = mode
          manager = Warden::Manager.new(method(:answer), failure_app: ->(_) { refusal }) do |config|
            # What a resource answers stays as it is.
            config.intercept_401 = false
            config.serialize_into_session(&:id)
            config.serialize_from_session { |id| Store::Person.enabled.find_by(id: id) }
          end
          @people = Sessions.new(manager)
        end

        def call(env)
          return @people.call(env) if @mode.together?

          env[Who::KEY] = Who::ALONE
          @app.call(env)
        end

        private

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

        def refusal = Problem.answer(401, "not-logged-in", "Unauthorized", "log in first")
      end
    end
  end
end
