# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Who is logged in here: logging in and out, one's password, and the browsers that one is logged in on.
      class Sessions < Resource
        WRONG = "wrong name or password"
        CODE = "enter the code of your authenticator app, or a recovery code"

        error(Store::SecondFactor::Unfit) { |error| problem(422, "unfit-code", error.message) }

        get("/") { json(state) }

        post "/" do
          problem(409, "no-people", "there are no people here: nobody has to log in") if who == Access::Who::ALONE
          object = carried
          env[Access::Audit::NAME] = name = string(object, "name")
          person = Store::Person.authenticate(name, given(object, "password"))
          problem(401, "wrong-login", WRONG) unless person
          check_code(person, string(object, "code")) if person.factor.on?
          env["warden"].set_user(person)
          env[Access::Who::KEY] = Access::Who.new(person, person.role, nil)
          json(state)
        end

        delete "/" do
          env[Access::Audit::NAME] = who.person.name
          env["warden"].logout
          env["rack.session.options"][:drop] = true
          response.delete_cookie(Access::Sessions::COOKIE, path: "/")
          env[Access::Who::KEY] = Access::Who::NOBODY
          json(state)
        end

        put "/password" do
          object = carried
          check_password(given(object, "old"), "the old password is wrong")
          who.person.choose_password(given(object, "new"), except: who.session)
          json(state)
        end

        # Begins a second factor; it holds once a code was given.
        post "/factor" do
          check_password(given(carried, "password"))
          secret = who.person.factor.begin
          uri = Northdrift::People::OneTimeCode.uri(secret, who.person.name)
          status 201
          json("secret" => secret, "uri" => uri, "picture" => QrCode.svg(uri))
        end

        # With the first code: gives recovery codes, once.
        put "/factor" do
          codes = who.person.factor.confirm(string(carried, "code"))
          own.where.not(id: who.session).delete_all
          json("codes" => codes)
        end

        delete "/factor" do
          check_password(given(carried, "password"))
          who.person.factor.end
          json(state)
        end

        get("/browsers") { json(browsers) }

        # All but this one.
        delete "/browsers" do
          own.where.not(id: who.session).delete_all
          json(browsers)
        end

        delete "/browsers/:id" do
          own.find(params["id"]).destroy!
          json(browsers)
        end

        private

        # Not cut at its ends: blanks may belong to it.
        def given(object, name) = checked(name, object.fetch(name, ""))

        def check_password(password, wrong = "the password is wrong")
          problem(422, "wrong-password", wrong) unless Store::Person.authenticate(who.person.name, password)
        end

        def check_code(person, code)
          problem(401, "code-needed", CODE) if code.empty?
          problem(401, "wrong-code", "wrong code, or one that was used already") unless person.factor.take?(code)
        end

        def own = Store::Session.live.where(person_id: who.person.id).order(seen_us: :desc)

        def browsers
          {
            "browsers" =>
              own.map do |one|
                {
                  "id" => one.id, "created_us" => one.created_us, "seen_us" => one.seen_us, "address" => one.address,
                  "agent" => one.agent, "this" => one.id == who.session
                }
              end
          }
        end

        # @return [Hash{String=>String}] why not, by route
        def may_not
          barred = Access::Routes::LEAST.reject { |route, least| least == Access::Routes::SELF || who.may?(route) }
          whole = who.sight ? Access::Routes::WHOLE.to_h { |route| [route, "whole"] } : {}
          barred.merge(whole.slice(*barred.keys))
        end

        def state
          {
            "alone" => who == Access::Who::ALONE,
            "person" => who.person && { "id" => who.person.id, "name" => who.person.name }, "role" => who.role,
            "sight" => who.sight, "factor" => who.person&.factor&.on? || false,
            "may_not" => may_not
          }
        end
      end
    end
  end
end
