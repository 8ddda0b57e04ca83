# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"

# Who may do what, by HTTP.
class PeopleTest < Northdrift::AskingTest
  include Northdrift

  PASSWORD = "zither-lantern-plum"
  ROLES = People::Role::NAMES
  JSON_TYPE = { "CONTENT_TYPE" => "application/json" }.freeze

  def setup
    super
    import_text("Nov 22 06:00:00 alder app: one\n")
    ROLES.each { |role| Store::Person.add("An #{role}", role: role, password: PASSWORD) }
  end

  # @return [Integer] status
  def send_to(method, path, object = nil, **headers)
    sent = { method: method.upcase, input: object ? JSON.generate(object) : "" }
    request(path, HOST.merge(JSON_TYPE, sent, headers.transform_keys(&:to_s)))
    last_response.status
  end

  def log_in(name, password = PASSWORD) = send_to("POST", "/api/session", { name: name, password: password })
  def cookie = rack_mock_session.cookie_jar[Server::Access::Sessions::COOKIE]
  def told = JSON.parse(last_response.body)
  def person(name) = Store::Person.named(name)

  # Routes of the document that pages use; those of the intake are at ports of their own.
  def routes
    document = JSON.parse(File.read(File.join(ROOT, "docs/openapi.json")))
    document["paths"].flat_map do |path, methods|
      next [] unless path.start_with?("/api/", "/metrics")

      methods.keys.grep(/\A(?:get|post|put|patch|delete)\z/).map { |method| "#{method.upcase} #{path}" }
    end
  end

  # Of all classes that answer, as Sinatra knows them.
  def answering
    Server::App::RESOURCES.flat_map do |mount, resource|
      resource.routes.flat_map do |verb, patterns|
        patterns.map { |pattern,| Server::Access::Routes.name(verb, mount, pattern.to_s) }
      end
    end
  end

  def test_every_route_has_a_row_and_every_row_a_route
    table = Server::Access::Routes::LEAST.keys
    assert_equal [table.sort, table.sort], [routes.sort, answering.uniq.sort]
  end

  # To those alone who may do something about it.
  def test_alerts_are_given_to_people
    log_in("An responder")
    given = { "name" => "Hot", "when" => { "count" => { "find" => "one" } } }
    rule = Store::AlertRule.create!(given: given, created_us: 1, changed_us: 1).rule
    alert = Store::Alert.note(rule, [], [Watch::Span.new(1, 1, 1)], 1).first
    give = ->(name) { send_to("POST", "/api/alerts/actions", { action: "give", ids: [alert.id], text: name }) }
    assert_equal 400, give.call("An viewer")
    assert_match(/nobody “An viewer” who may take alerts/, told["detail"])
    assert_equal 200, give.call("An operator")
    send_to("GET", "/api/alerts")
    assert_equal ROLES.drop(1).map { |role| "An #{role}" }.sort, told["people"]
    assert_equal ["taken", "An operator"], told["alerts"].first.values_at("state", "taken_by")
    assert_equal "An responder", alert.steps.last.who
  end

  # What refuses says so by 401 or 403; what is allowed may find nothing there, or nothing to do.
  def test_the_table_holds_for_everybody
    [nil, *ROLES].each do |role|
      clear_cookies
      log_in("An #{role}") if role
      (routes - ["POST /api/session", "DELETE /api/session"]).each do |route|
        verb, path = route.split
        status = send_to(verb, path.gsub(/\{\w+\}/, "999"), {})
        refusal = role ? 403 : 401
        assert_equal !allowed?(role, route), status == refusal, "#{role || 'nobody'}: #{route} answered #{status}"
      end
    end
  end

  def allowed?(role, route, person: true)
    least = Server::Access::Routes.least(route)
    return person if least == "self" && role

    least == "anybody" || (!role.nil? && least != "self" && ROLES.index(role) >= ROLES.index(least))
  end

  def bearer(secret) = { HTTP_AUTHORIZATION: "Bearer #{secret}" }

  def test_the_table_holds_for_every_kind_of_token
    ROLES.each do |role|
      _, secret = Store::Token.make("of a #{role}", role: role, days: 1)
      (routes - ["POST /api/session", "DELETE /api/session"]).each do |route|
        verb, path = route.split
        status = send_to(verb, path.gsub(/\{\w+\}/, "999"), {}, **bearer(secret))
        assert_equal !allowed?(role, route, person: false), status == 403, "#{role}: #{route} answered #{status}"
      end
    end
  end

  # A limited one may do less: what is of everything is not told.
  def test_the_table_holds_for_tokens_of_who_does_not_see_everything
    whole = Server::Access::Routes::WHOLE
    %w[viewer responder].each do |role|
      _, secret = Store::Token.make("of a #{role}", role: role, days: 1, sight: "host.name = alder")
      (routes - ["POST /api/session", "DELETE /api/session"]).each do |route|
        verb, path = route.split
        status = send_to(verb, path.gsub(/\{\w+\}/, "999"), {}, **bearer(secret))
        may = allowed?(role, route, person: false) && !whole.include?(route)
        assert_equal !may, status == 403, "#{role}: #{route} answered #{status}"
      end
    end
    send_to("GET", "/api/feeds", nil,
            **bearer(Store::Token.make("x", role: "viewer", days: 1, sight: "has source").last))
    assert_equal [403, "this is for those who may see everything"], [last_response.status, told["detail"]]
  end

  def test_what_somebody_sees_is_set_and_taken_back
    import_text("Nov 22 06:00:00 birch app: two\n", name: "birch.log")
    log_in("An administrator")
    viewer = person("An viewer")
    assert_equal 200, send_to("PATCH", "/api/people/#{viewer.id}", { sight: "host.name = alder" })
    assert_equal "host.name = alder", told["sight"]
    ["error", "host.name =", "user.name = ann"].each do |find|
      assert_equal 422, send_to("PATCH", "/api/people/#{viewer.id}", { sight: find }), find
      assert_equal 422, send_to("POST", "/api/tokens", { name: "x", role: "viewer", days: 1, sight: find }), find
    end
    assert_equal 422, send_to("PATCH", "/api/people/#{person('An operator').id}", { sight: "host.name = alder" })
    hidden = question("two").page.events.first
    clear_cookies
    log_in("An viewer")
    send_to("GET", "/api/session")
    assert_equal ["host.name = alder", "whole"], [told["sight"], told["may_not"]["GET /api/feeds"]]
    assert_equal "operator", told["may_not"]["POST /api/feeds"]
    send_to("GET", "/api/status")
    assert_equal [1, ["alder"]], told.values_at("lines", "machines")
    assert_equal 404, send_to("GET", "/api/lines/#{hidden.id}")
    assert_equal 404, send_to("GET", "/api/sources/#{hidden.source_id}")
    assert_equal 404, send_to("GET", "/api/sources/#{hidden.source_id}/text")
    viewer.reload.take_sight("")
    send_to("GET", "/api/status")
    assert_equal 2, told["lines"]
  end

  def test_what_people_set_says_whose_it_is
    log_in("An responder")
    send_to("POST", "/api/cases", { title: "the night" })
    path = "/api/cases/#{told['id']}"
    assert_equal ["An responder", nil], told.values_at("made_by", "changed_by")
    send_to("POST", "/api/searches", { name: "mine", query: "find=x" })
    assert_equal "An responder", told["made_by"]
    clear_cookies
    log_in("An operator")
    send_to("PATCH", path, { cause: "a storm" })
    assert_equal ["An responder", "An operator"], told.values_at("made_by", "changed_by")
    send_to("PUT", "/api/scopes", { name: "here", find: "host.name = alder" })
    assert_equal "An operator", told["made_by"]
    clear_cookies
    send_to("PATCH", path, { cause: "" }, **bearer(Store::Token.make("nightly", role: "responder", days: 1).last))
    assert_equal "token nightly", told["changed_by"]
    Store::Case.find(told["id"]).update!(remedy: "x")
    assert_equal "token nightly", Store::Case.find(told["id"]).changed_by, "what changes by itself has no author"
    Store::Changes.start("somebody")
    Intake::Live::Inlets.set_up
    assert_equal [[nil], "somebody"], [Store::Feed.pluck(:made_by).uniq, Store::Changes.by]
  ensure
    Store::Changes.finish
  end

  # An export has a number that others can guess.
  def test_an_export_is_for_who_sees_the_same
    one, same, other = ["host.name = alder", "host.name = alder", "host.name = birch"].map do |find|
      bearer(Store::Token.make("x", role: "viewer", days: 1, sight: find).last)
    end
    send_to("POST", "/api/exports?form=text", nil, **one)
    path = "/api/exports/#{told['id']}"
    assert_equal([200, 404, 200], [one, other, same].map { |who| send_to("GET", path, nil, **who) })
    assert_equal [404, 404], [send_to("GET", "#{path}/file", nil, **other), send_to("DELETE", path, nil, **other)]
    assert_equal 200, send_to("GET", "#{path}/file", nil, **same)
    assert_match(/one/, last_response.body)
  end

  # RFC 6750, section 3: what is wrong is answered with 401 and the scheme that is wanted.
  def test_a_token_holds_until_it_expires_or_is_taken_away
    log_in("An administrator")
    assert_equal 201, send_to("POST", "/api/tokens", { name: "nightly report", role: "viewer", days: 2 })
    secret = told["secret"]
    refute_includes Store::Database.rows("SELECT * FROM tokens").flatten, secret
    clear_cookies
    assert_equal 200, send_to("GET", "/api/status", nil, **bearer(secret))
    assert_nil cookie, "a program has no session"
    refute_nil Store::Token.sole.used_us
    [secret.chop, "#{secret}x", "", "Basic"].each do |wrong|
      assert_equal 401, send_to("GET", "/api/status", nil, **bearer(wrong)), wrong
      assert_equal "Bearer", last_response.headers["www-authenticate"]
    end
    Store::Token.sole.update!(expires_us: Store::Clock.now_us - 1)
    assert_equal 401, send_to("GET", "/api/status", nil, **bearer(secret))
    Store::Token.sole.update!(expires_us: Store::Clock.now_us + 1_000_000)
    log_in("An administrator")
    assert_equal [200, []], [send_to("DELETE", "/api/tokens/#{Store::Token.sole.id}"), told["tokens"]]
    clear_cookies
    assert_equal 401, send_to("GET", "/api/status", nil, **bearer(secret))
  end

  def test_tokens_that_will_not_do
    log_in("An administrator")
    [
      { name: "", role: "viewer", days: 1 }, { name: "x", role: "captain", days: 1 },
      { name: "x", role: "viewer", days: 0 }, { name: "x", role: "viewer", days: 400 },
      { name: "x", role: "viewer", days: "1" }, { name: "x", role: "viewer" }, { name: "a\nb", role: "viewer", days: 1 }
    ].each { |wanted| assert_includes [400, 422], send_to("POST", "/api/tokens", wanted), wanted }
    assert_equal 0, Store::Token.count
  end

  # Addresses of one thing, written in other ways.
  def test_no_other_spelling_of_an_address_opens_a_route
    log_in("An viewer")
    ["/api/keeping/", "//api/keeping", "/api//keeping", "/api/keeping//", "/api/./keeping", "/api/%6beeping",
     "/API/keeping", "/api/keeping?x=1", "/api/keeping;x"].each do |path|
      assert_operator send_to("PUT", path, { days: 1, archive: false }), :>=, 400, path
    end
    assert_nil Store::Keeping.current.days
    # A form says another method (Rack::MethodOverride), or a header does: neither is heard.
    assert_equal 404, send_to("POST", "/api/keeping?_method=PUT", { days: 1 }, HTTP_X_HTTP_METHOD_OVERRIDE: "PUT")
  end

  def test_without_people_nobody_logs_in
    Store::Person.delete_all
    assert_equal 200, send_to("GET", "/api/status")
    send_to("GET", "/api/session")
    assert_equal [true, nil, {}], told.values_at("alone", "person", "may_not")
    assert_equal 409, log_in("An viewer")
  end

  def test_what_a_wrong_login_tells
    answers = [["An viewer", "wrong"], ["Nobody at all", PASSWORD], ["An viewer", ""], ["", ""],
               ["An viewer", "#{PASSWORD}\0"], ["\0", PASSWORD],
               ["An viewer", "ü" * 50]]
      .map do |name, password|
      [log_in(name, password), last_response.body]
    end
    assert_equal [401], answers.map(&:first).uniq
    assert_equal 1, answers.map(&:last).uniq.size
    assert_nil cookie
    person("An viewer").disable
    assert_equal [401, answers.dig(0, 1)], [log_in("An viewer"), last_response.body]
  end

  # By a cost that people's passwords may have. What the processor does is what can be told apart at all: on the way
  # to who asks there is noise beyond it.
  def test_a_name_that_there_is_takes_no_longer
    BCrypt::Engine.cost = 10
    Store::Person.add("Olav", role: "viewer", password: PASSWORD)
    Store::Person.instance_variable_set(:@nobodys, nil)
    Store::Person.authenticate("warms up", "x")
    known, unknown = %w[Olav Nobody].map do |name|
      Array.new(7) { processor_seconds { Store::Person.authenticate(name, "wrong") } }.min
    end
    assert_in_delta known, unknown, known / 3
  ensure
    BCrypt::Engine.cost = BCrypt::Engine::MIN_COST
    Store::Person.instance_variable_set(:@nobodys, nil)
  end

  def processor_seconds
    began = Process.clock_gettime(Process::CLOCK_THREAD_CPUTIME_ID)
    yield
    Process.clock_gettime(Process::CLOCK_THREAD_CPUTIME_ID) - began
  end

  # RFC 6265, section 4.1.2; its SameSite is that of the draft that follows it.
  def test_the_cookie
    log_in("an VIEWER ")
    assert_match(/;\s*httponly/i, last_response.headers["set-cookie"])
    assert_match(/;\s*samesite=strict/i, last_response.headers["set-cookie"])
    assert_operator cookie.size, :>=, 64
    refute_includes Store::Session.ids, cookie, "the database has a digest alone"
    send_to("GET", "/api/session")
    assert_equal ["An viewer", "viewer"], [told.dig("person", "name"), told["role"]]
    assert_equal "operator", told["may_not"]["PUT /api/keeping"]
  end

  def test_a_number_that_was_foisted_is_not_kept
    foisted = "a" * 128
    rack_mock_session.cookie_jar["northdrift"] = foisted
    log_in("An viewer")
    refute_equal foisted, cookie
    first = cookie
    log_in("An operator")
    refute_equal first, cookie
    rack_mock_session.cookie_jar["northdrift"] = first
    assert_equal 401, send_to("GET", "/api/status"), "the number of before does not hold any more"
  end

  def test_nothing_holds_after_logout
    log_in("An viewer")
    kept = cookie
    assert_equal 200, send_to("DELETE", "/api/session")
    rack_mock_session.cookie_jar["northdrift"] = kept
    assert_equal 401, send_to("GET", "/api/status")
    assert_equal 0, Store::Session.count
  end

  def test_who_does_nothing_is_logged_out_and_everybody_after_a_week
    { seen_us: 13, created_us: 24 * 8 }.each do |column, hours|
      log_in("An viewer")
      assert_equal 200, send_to("GET", "/api/status")
      Store::Session.update_all(column => Store::Clock.now_us - (hours * 3_600_000_000))
      assert_equal 401, send_to("GET", "/api/status"), column
      Store::Session.delete_all
    end
  end

  # The codes that an app would show now, in their order.
  def codes(secret)
    require "rotp"
    [-30, 0, 30].map { |by| ROTP::TOTP.new(secret).at((Store::Clock.now_us / 1_000_000) + by) }
  end

  # @return [Array(String, Array<String>)] secret and recovery codes
  def turn_factor_on
    assert_equal 201, send_to("POST", "/api/session/factor", { password: PASSWORD })
    secret = told["secret"]
    assert_includes told["uri"], secret
    assert_match(/\A<\?xml.*<svg/m, told["picture"])
    assert_equal 200, send_to("PUT", "/api/session/factor", { code: codes(secret).first })
    [secret, told["codes"]]
  end

  def log_in_with(code) = send_to("POST", "/api/session", { name: "An viewer", password: PASSWORD, code: code })

  def test_a_second_factor
    log_in("An viewer")
    assert_equal 422, send_to("POST", "/api/session/factor", { password: "wrong" })
    assert_equal 201, send_to("POST", "/api/session/factor", { password: PASSWORD })
    assert_equal 422, send_to("PUT", "/api/session/factor", { code: "000000" })
    clear_cookies
    assert_equal 200, log_in("An viewer"), "what was only begun is not asked for"
    secret, = turn_factor_on
    send_to("GET", "/api/session")
    assert told["factor"]
    clear_cookies
    assert_equal [401, "/problems/code-needed"], [log_in("An viewer"), told["type"]]
    assert_nil cookie
    _, now, following = codes(secret)
    assert_equal 401, send_to("POST", "/api/session", { name: "An viewer", password: "wrong", code: now })
    assert_equal "/problems/wrong-login", told["type"], "a code tells nothing of the password"
    wrong = (("000000".."000009").to_a - codes(secret)).first
    assert_equal [401, "/problems/wrong-code"], [log_in_with(wrong), told["type"]]
    assert_equal 200, log_in_with(now)
    clear_cookies
    assert_equal 401, log_in_with(now), "a code is taken once"
    assert_equal 200, log_in_with(following)
  end

  def test_a_recovery_code_is_taken_once
    log_in("An viewer")
    _, recovery = turn_factor_on
    clear_cookies
    assert_equal [200, 401], Array.new(2) { log_in_with(recovery.first).tap { clear_cookies } }
    assert_equal 9, person("An viewer").factor.left
  end

  # Nothing that logs in stands in the database, or in the audit trail, as it is.
  def test_secrets_of_a_second_factor_are_not_kept_as_they_are
    log_in("An viewer")
    secret, recovery = turn_factor_on
    kept = Dir[File.join(@data, "*.db*")].sum("".b) { |path| File.binread(path) }
    [secret, *recovery].each { |text| refute_includes kept, text }
  end

  def test_a_second_factor_is_turned_off_by_who_has_it_and_by_an_administrator
    log_in("An viewer")
    turn_factor_on
    assert_equal 422, send_to("POST", "/api/session/factor", { password: PASSWORD }), "on already"
    assert_equal 422, send_to("DELETE", "/api/session/factor", { password: "wrong" })
    assert_equal [200, false], [send_to("DELETE", "/api/session/factor", { password: PASSWORD }), told["factor"]]
    turn_factor_on
    clear_cookies
    log_in("An administrator")
    assert_equal 200, send_to("PATCH", "/api/people/#{person('An viewer').id}", { factor: false })
    refute told["factor"]
    clear_cookies
    assert_equal 200, log_in("An viewer")
  end

  # Two browsers that send the same code at once: one of them was not told it by the app.
  def test_a_code_that_comes_twice_at_once_is_taken_once
    log_in("An viewer")
    secret, recovery = turn_factor_on
    [codes(secret)[1], recovery.first].each do |code|
      asked = Array.new(2) { person("An viewer") }
      assert_equal([true, false], asked.map { |one| one.factor.take?(code) })
    end
  end

  def test_browsers_are_listed_and_logged_out
    kept = Array.new(3) { clear_cookies && log_in("An viewer") && cookie }
    send_to("GET", "/api/session/browsers")
    assert_equal 3, told["browsers"].size
    other = told["browsers"].find { |one| !one["this"] }
    assert_equal 200, send_to("DELETE", "/api/session/browsers/#{other['id']}")
    assert_equal 2, told["browsers"].size
    send_to("DELETE", "/api/session/browsers")
    assert_equal([true], told["browsers"].map { |one| one["this"] })
    held = kept.map { |one| (rack_mock_session.cookie_jar["northdrift"] = one) && send_to("GET", "/api/status") }
    assert_equal [401, 401, 200], held
    clear_cookies
    log_in("An operator")
    assert_equal 404, send_to("DELETE", "/api/session/browsers/#{Store::Session.where(person_id: person('An viewer').id)
                                                                                .pick(:id)}"), "not another's"
  end

  def test_choosing_another_password_ends_the_others
    log_in("An viewer")
    other = cookie
    clear_cookies
    log_in("An viewer")
    assert_equal 422, send_to("PUT", "/api/session/password", { old: "wrong", new: "plover-quarry-7" })
    assert_equal 422, send_to("PUT", "/api/session/password", { old: PASSWORD, new: "password1234" })
    assert_equal 200, send_to("PUT", "/api/session/password", { old: PASSWORD, new: "plover-quarry-7" })
    assert_equal 200, send_to("GET", "/api/status")
    rack_mock_session.cookie_jar["northdrift"] = other
    assert_equal 401, send_to("GET", "/api/status")
    clear_cookies
    assert_equal [401, 200], [log_in("An viewer"), log_in("An viewer", "plover-quarry-7")]
  end

  def test_whose_role_changes_or_who_is_disabled_notices_at_once
    log_in("An operator")
    assert_equal 200, send_to("PUT", "/api/keeping", { days: nil, megabytes: nil, archive: true })
    person("An operator").take_role("viewer")
    assert_equal 403, send_to("PUT", "/api/keeping", { days: nil, megabytes: nil, archive: true })
    assert_equal "needs the operator role; yours is viewer", told["detail"]
    person("An operator").disable
    assert_equal 401, send_to("GET", "/api/status")
  end

  # What reads this computer, and what is gone for good, is more than its route.
  def test_what_an_administrator_alone_does
    follow = { name: "x", kind: "follow", settings: { paths: "#{Dir.tmpdir}/x.log" } }
    forget = { days: 1, archive: false, confirmed: true }
    { "An operator" => [403, 403], "An administrator" => [201, 200] }.each do |name, expected|
      log_in(name)
      assert_equal expected, [send_to("POST", "/api/feeds", follow), send_to("PUT", "/api/keeping", forget)], name
    end
  end

  def test_where_somebody_is_told_of_alerts
    log_in("An administrator")
    path = "/api/people/#{person('An viewer').id}"
    assert_equal 200, send_to("PATCH", path, { mail: " vera@tarnholm.example " })
    assert_equal "vera@tarnholm.example", told["mail"]
    assert_equal 422, send_to("PATCH", path, { mail: "vera" })
    assert_match(/“vera” is no mail address/, told["detail"])
    send_to("PATCH", path, { mail: "" })
    assert_nil person("An viewer").mail
  end

  def test_somebody_new_chooses_a_password_by_a_link_once
    log_in("An administrator")
    send_to("POST", "/api/people", { name: "  Runa ", role: "responder" })
    secret = told.fetch("secret")
    assert_equal ["Runa", "responder", false], told.values_at("name", "role", "password")
    refute_includes Store::Invitation.ids, secret
    clear_cookies
    assert_equal 401, log_in("Runa", "")
    assert_equal [200, "Runa"], [send_to("POST", "/api/invitations", { secret: secret }), told["name"]]
    assert_equal 422, send_to("PUT", "/api/invitations", { secret: secret, password: "short" })
    assert_equal 200, send_to("PUT", "/api/invitations", { secret: secret, password: PASSWORD })
    assert_equal 404, send_to("PUT", "/api/invitations", { secret: secret, password: "another-#{PASSWORD}" })
    assert_equal 200, log_in("runa")
  end

  def test_a_link_ends_after_three_days_and_with_the_next_one
    viewer = person("An viewer")
    first = Store::Invitation.make(viewer)
    second = Store::Invitation.make(viewer)
    assert_equal([404, 200], [first, second].map { |secret| send_to("POST", "/api/invitations", { secret: secret }) })
    Store::Invitation.update_all(expires_us: Store::Clock.now_us)
    assert_equal 404, send_to("POST", "/api/invitations", { secret: second })
  end

  def test_an_administrator_stays
    log_in("An administrator")
    id = person("An administrator").id
    [{ role: "viewer" }, { disabled: true }].each do |change|
      assert_equal 422, send_to("PATCH", "/api/people/#{id}", change)
      assert_equal "An administrator is the only administrator; make another one first", told["detail"]
    end
    assert_equal 200, send_to("PATCH", "/api/people/#{person('An viewer').id}", { role: "administrator" })
    assert_equal 200, send_to("PATCH", "/api/people/#{id}", { role: "viewer" })
    assert_equal 403, send_to("GET", "/api/people")
  end

  def test_names_that_will_not_do
    log_in("An administrator")
    ["", "  ", "a" * 81, "a\nb", "AN viewer", "ＡＮ viewer"].each do |name|
      assert_includes [400, 422], send_to("POST", "/api/people", { name: name, role: "viewer" }), name
    end
    assert_equal 422, send_to("POST", "/api/people", { name: "Ida", role: "captain" })
  end

  # OWASP ASVS 5.0, 6.2: at least 12 characters, none of the common ones, no rules about kinds of characters.
  def test_passwords_that_will_not_do
    {
      "short" => "12 are the least", "password1234" => "too easy to guess", "qwertyuiop12" => "too easy to guess",
      "aaaaaaaaaaaaaaaa" => "too easy to guess", "123456789012" => "too easy to guess",
      "olavolavolav" => "too easy to guess",
      "northdrift12" => "too easy to guess", "ü" * 37 => "72 are the most",
      "\xFF" * 13 => "UTF-8", "zither\0lantern" => "NUL"
    }.each do |password, reason|
      error = assert_raises(People::Password::Unfit, password) { People::Password.check(password, name: "Olav") }
      assert_includes error.message, reason
    end
    ["correct horse battery", "zither-lantern-plum", "åkerbär och snö i april"].each do |password|
      assert_equal password, People::Password.check(password, name: "Olav")
    end
  end

  # Where nobody logs in yet, the pages cannot make it so that nobody can.
  def test_the_first_administrator_is_added_on_the_computer_itself
    Store::Person.delete_all
    assert_equal 409, send_to("POST", "/api/people", { name: "Eve", role: "administrator" })
    assert_equal 0, Store::Person.count
  end

  def test_behind_a_proxy_that_speaks_https_the_cookie_goes_by_that_alone
    @app = Server::App.build(@data, proxies: ["10.40.0.2"])
    %w[10.40.0.2 10.40.0.3].each do |address|
      clear_cookies
      told = { HTTP_X_FORWARDED_PROTO: "https", HTTP_X_FORWARDED_FOR: "192.0.2.7", REMOTE_ADDR: address }
      send_to("POST", "/api/session", { name: "An viewer", password: PASSWORD }, **told)
      assert_equal address == "10.40.0.2", last_response.headers["set-cookie"].match?(/;\s*secure/i), address
    end
    assert_equal %w[10.40.0.3 192.0.2.7], Store::Session.pluck(:address).sort
  end

  def test_who_tries_passwords_has_to_wait
    tried = Array.new(10) { |number| log_in("An viewer", "wrong #{number}") }
    assert_equal [401] * 8, tried.first(8)
    assert_equal 429, tried.last
    assert_includes 1..60, Integer(last_response.headers["retry-after"])
    assert_equal 429, log_in("an VIEWER"), "the right one, too"
    padded = send_to("POST", "/api/session", { name: "An viewer", password: PASSWORD, more: "x" * 9000 })
    assert_equal 429, padded, "however it is dressed up"
    assert_equal 200, log_in("An operator"), "others may"
    old = -> { send_to("PUT", "/api/session/password", { old: "wrong", new: "plover-quarry-seven" }) }
    assert_equal 422, old.call
    assert_equal 429, Array.new(30) { old.call }.last, "from one address"
    assert_equal 429, log_in("Nobody at all", "x")
    refused = Store::AuditTrail.latest(100).select { |entry| entry.outcome == 429 }.reverse
    assert_equal([["POST /api/session", "an viewer"], ["PUT /api/session/password", "127.0.0.1"]],
                 refused.map { |entry| [entry.action, entry.target] }, "each told once")
  end

  # Fetch Metadata Request Headers, section 2.3: what no browser's own page sent.
  def test_a_page_elsewhere_can_log_nobody_in_or_out
    log_in("An administrator")
    %w[cross-site same-site].each do |site|
      assert_equal 403, send_to("DELETE", "/api/session", nil, HTTP_SEC_FETCH_SITE: site)
      assert_equal 403,
                   send_to("POST", "/api/people", { name: "Eve", role: "administrator" }, HTTP_SEC_FETCH_SITE: site)
    end
    assert_equal 403, send_to("POST", "/api/people", { name: "Eve", role: "administrator" }, HTTP_ORIGIN: "http://evil.example")
    assert_nil person("Eve")
    assert_equal 200, send_to("GET", "/api/people", nil, HTTP_SEC_FETCH_SITE: "same-origin")
  end
end
