# frozen_string_literal: true

module Northdrift
  module Server
    module Access
      # Rack middleware: what is answered is what who asks may see, the body of the answer too, which is made when it is
      # sent.
      class Sighted
        # A body that is read within a {Store::Sight}.
        class Body
          def initialize(body, sight)
            @body = body
            @sight = sight
          end

          def each(&) = Store::Sight.within(@sight) { @body.each(&) }

          def close = @body.respond_to?(:close) && @body.close
        end

        def initialize(app)
          @app = app
        end

        def call(env)
          sight = env[Who::KEY].sight or return @app.call(env)

          status, headers, body = Store::Sight.within(sight) { @app.call(env) }
          [status, headers, Body.new(body, sight)]
        end
      end
    end
  end
end
