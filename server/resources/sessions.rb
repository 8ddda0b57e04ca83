# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Who is logged in here: logging in and out, one's password, and the browsers that one is logged in on.
      class Sessions < Resource
        # What is to be known again when somebody comes back: in their browser, and to nobody else.
        PENDING = "northdrift-login"
        PENDING_PATH = "/api/session/provider"
        PENDING_SECONDS = 600
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

        # To another provider, and back.
        get "/provider" do
          other = provider or problem(404, "no-provider", "people log in here with a password")
          address, pending = other.begin(back)
          remember(pending)
          away(address)
        rescue Access::Provider::Refused => error
          refused("unreachable", error)
        end

        get "/provider/back" do
          pending = remembered or refused("late")
          forget
          refused("late") unless Rack::Utils.secure_compare(pending["state"], params["state"].to_s)
          refused("refused") if params["code"].to_s.empty?
          other = provider or refused("refused")
          welcome(other.finish(text("code"), pending, back))
        rescue Access::Provider::Refused => error
          refused("refused", error)
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

        # @return [Access::Provider, nil]
        def provider
          return if who == Access::Who::ALONE

          Access::Provider.of(Store::MachineSettings.current)
        end

        def back = "#{request.base_url}#{PENDING_PATH}/back"

        # It has to come with the way back, which begins at another site.
        def remember(pending)
          kept = json(pending.merge("expires_us" => now_us + (PENDING_SECONDS * 1_000_000)))
          response.set_cookie(
            PENDING,
            value: Store::Secret.seal(kept), path: PENDING_PATH, httponly: true, same_site: :lax, secure: request.ssl?,
            max_age: PENDING_SECONDS
          )
        end

        def remembered
          kept = request.cookies[PENDING]&.then { |sealed| Store::Secret.open(sealed) } or return
          Oj.load(kept, mode: :strict).then { |pending| pending if pending["expires_us"] > now_us }
        end

        def forget = response.delete_cookie(PENDING, path: PENDING_PATH)

        def welcome(claims)
          env[Access::Audit::NAME] = claims.names.first || claims.subject
          person = Store::Person.of_provider(
            claims.subject, claims.names, name: claims.name, role: Store::MachineSettings.current.login_role
          )
          refused("unknown") unless person
          env["warden"].set_user(person)
          env[Access::Who::KEY] = Access::Who.new(person, person.role, nil)
          away("/")
        rescue Store::Person::Unfit, Store::Sight::Unfit => error
          refused("unknown", error)
        end

        def away(address) = halt(302, { "location" => address }, "")

        # Told on the page to log in with; what exactly was wrong is for the log.
        # @param why [String] a key of what the page says
        def refused(why, error = nil)
          warn "northdrift: login by #{Store::MachineSettings.current.login_issuer}: #{error.message}" if error
          away("/?login=#{why}")
        end

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

        # What one saves may belong to them.
        def teams
          return [] if who.role.nil?

          known = who.teams
          (known ? Store::Team.where(id: known) : Store::Team).order(:key).map do |team|
            { "id" => team.id, "name" => team.name }
          end
        end

        def state
          {
            "alone" => who == Access::Who::ALONE,
            "person" => who.person && { "id" => who.person.id, "name" => who.person.name }, "role" => who.role,
            "sight" => who.sight, "teams" => teams, "factor" => who.person&.factor&.on? || false,
            "may_not" => may_not, "provider" => provider && Store::MachineSettings.current.login_name
          }
        end
      end
    end
  end
end
