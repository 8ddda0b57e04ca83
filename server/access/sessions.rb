# frozen_string_literal: true

require "rack/session/abstract/id"

module Northdrift
  module Server
    module Access
      # Keeps in the database who is logged in on which browser; nothing else is kept of a browser. The cookie has a
      # number alone, of which the database has the digest.
      class Sessions < Rack::Session::Abstract::PersistedSecure
        COOKIE = "northdrift"
        OPTIONS = { key: COOKIE, same_site: :strict, httponly: true, sidbits: 256 }.freeze
        # Where Warden keeps who is logged in.
        PERSON = "warden.user.default.key"
        # Which one was found at the start of a request, in its environment.
        FOUND = "northdrift.session"
        # Of a name that a browser gives itself.
        MOST_AGENT = 300

        def initialize(app, options = {}) = super(app, OPTIONS.merge(options))

        def find_session(request, sid)
          session = sid && Store::Session.of(sid.private_id) or return [generate_sid, {}]
          session.note
          request.set_header(FOUND, session)
          [sid, { PERSON => session.person_id }]
        end

        def write_session(request, sid, session, _options)
          person = session[PERSON]
          found = request.get_header(FOUND)
          unless found && [found.id, found.person_id] == [sid.private_id, person]
            now = Store::Clock.now_us
            Store::Session.create!(
              id: sid.private_id, person_id: person, created_us: now, seen_us: now, address: request.get_header("REMO" \
                                                                                                                "TE_A" \
                                                                                                                "DDR"),
              agent: Text.display(request.user_agent.to_s)[0, MOST_AGENT]
            )
          end
          sid
        end

        # A new number at login, and none after logout.
        def delete_session(_request, sid, options)
          Store::Session.where(id: sid.private_id).delete_all
          generate_sid unless options[:drop]
        end

        private

        # Where the pages come by HTTPS, the cookie goes by that alone.
        def set_cookie(request, response, cookie) = super(request, response, cookie.merge(secure: request.ssl?))

        # Who is not logged in has no session.
        def commit_session?(request, session, options) = super && !session[PERSON].nil?
      end
    end
  end
end
