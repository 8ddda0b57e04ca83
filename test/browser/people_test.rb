# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"
require "rotp"

# An operations team at one place: each logs in, and does what their role may.
class PeopleBrowserTest < Northdrift::BrowserTest
  PASSWORD = Northdrift::Place::PASSWORD

  # Who is limited in one test is so in all that come after it: Liv and Nora play in one each.
  plays people: { "Olav" => "administrator", "Runa" => "responder", "Nora" => "responder", "Vera" => "viewer",
                  "Liv" => "viewer", "Ada" => "operator" },
        provider: "harbour login"

  # Who is not logged in is told so by every answer.
  def harmless = Regexp.union(super, /status of 40[13]/)

  def log_in(name, password = PASSWORD)
    fill_in "Name", with: name
    fill_in "Password", with: password
    click_button "Log in"
  end

  def open_as(name, path = "/#lines")
    open_page(path)
    log_in(name)
    assert_selector :button, "logged in as #{name}"
  end

  def menu(name, item)
    click_button "logged in as #{name}"
    find("[role=menuitem]", text: item).click
  end

  def test_one_logs_in_where_one_wanted_to_go_and_out_again
    open_page("/logbook")
    assert_no_selector "nav"
    log_in("Vera", "not the right one")
    assert_selector "[role=alert]", text: "wrong name or password"
    log_in("vera")
    assert_selector "h1", text: "Logbook"
    menu("Vera", "Log out")
    assert_selector :button, "Log in"
    open_page("/fleet")
    assert_selector :button, "Log in"
    assert_no_text "gate-tar-1"
  end

  def test_a_viewer_sees_everything_and_can_change_nothing
    open_as("Vera")
    assert_operator total, :>, 1000
    find("[data-line]", match: :first).click
    assert_selector :button, "Pin to a case", disabled: true
    assert_selector :button, "Add files", disabled: true
    open_page("/intake/keeping")
    assert_text "Needs the operator role; yours is viewer."
    assert_selector :field, "Lines are kept for, in days", disabled: true
    open_page("/intake")
    assert_selector :button, "Add a source", disabled: true
    open_page("/people")
    assert_text "Needs the administrator role; yours is viewer"
    click_button "logged in as Vera"
    assert_no_selector "[role=menuitem]", text: "People"
  end

  # Of all machines of the demo world, those of one site; what they say of others stands in their own lines.
  SEEN = %w[gate-auk-1 hall-kiosk-4 rtr-auk-1 weather-1].freeze

  def test_who_is_limited_to_one_site_sees_that_alone_on_every_screen
    open_as("Olav", "/people")
    field = find_field("what Liv is limited to")
    field.set("user.name = liv").send_keys(:enter)
    assert_selector "[role=alert]", text: "what one may see is told by host.name"
    field.set("host.site = auk").send_keys(:enter)
    assert_no_selector "[role=alert]"
    menu("Olav", "Log out")
    open_as("Liv", "/fleet")
    assert_text "(limited)"
    assert_selector "[data-machine]", count: SEEN.size
    assert_equal SEEN, all("[data-machine]").map { |row| row["data-machine"] }.sort
    open_page("/fleet/map")
    assert_no_text "tix-db-1"
    assert_text "rtr-auk-1"
    open_page("/logbook?machine=tix-db-1")
    assert_no_selector "[data-happening]"
    open_page("/logbook")
    assert_selector "[data-happening]"
    open_page
    find("[data-line]", match: :first)
    assert_text "4 machines"
    names = all("[data-line] [class*='machine']").map(&:text).uniq
    assert_equal [true, []], [names.include?("gate-auk-1"), names - SEEN]
    assert_no_selector "nav a", text: "Intake"
    open_page("/intake")
    assert_text "Not available here: your access is limited to host.site = auk."
  end

  def test_a_team_shares_a_question_and_sees_one_site
    open_as("Olav", "/people/teams")
    click_button "Add team"
    fill_in "Name", with: "Harbour"
    fill_in "Members", with: "Nora"
    find("[role=option]", text: "Nora").click
    find_field("Limited to").set("host.site = auk").send_keys(:enter)
    assert_selector "[data-team=Harbour]", text: "Nora"
    menu("Olav", "Log out")
    open_as("Nora", "/?find=gate")
    assert_text "(limited)"
    find("[data-line]", match: :first)
    click_button "Searches"
    find("[role=tab]", text: "Saved").click
    fill_in "Name", with: "gates"
    select "Harbour", from: "Belongs to"
    click_button "Save"
    assert_selector "[data-search=gates]", text: "Harbour"
    open_page
    menu("Nora", "Log out")
    open_as("Vera")
    click_button "Searches"
    find("[role=tab]", text: "Saved").click
    assert_text "Nothing is saved yet"
  end

  def test_a_responder_keeps_cases
    open_as("Runa")
    find("[data-line]", match: :first).click
    click_button "Pin to a case"
    fill_in "What is it about?", with: "the night"
    click_button "Start the case"
    assert_text "pinned:"
    open_page("/intake/noise")
    assert_selector :button, "Make a noise rule", disabled: true
  end

  def test_somebody_new_gets_a_link
    open_as("Olav")
    menu("Olav", "People")
    fill_in "Name", with: "Ida"
    select "operator", from: "Role"
    click_button "Add"
    link = find("[data-told]").text
    assert_selector "[data-person=Ida]", text: "no password yet"
    menu("Olav", "Log out")
    assert_selector :button, "Log in"
    visit(link)
    fill_in "New password", with: "password1234"
    click_button "Set password"
    assert_selector "[role=alert]", text: "too easy to guess"
    fill_in "New password", with: PASSWORD
    click_button "Set password"
    click_link "Log in"
    log_in("Ida")
    assert_selector :button, "logged in as Ida"
    assert_selector :button, "Add files", disabled: false
  end

  def test_who_did_what
    open_as("Olav", "/intake/keeping")
    fill_in "Lines are kept for, in days", with: "400"
    click_button "Keep it so"
    open_page("/people/audit")
    kept = find("[data-entry]", match: :first)
    assert_equal [true, true], [kept.text.include?("Olav"), kept.text.include?("Set how long lines are kept")],
                 kept.text
    assert_match(/400/, kept.find("ins").text)
    click_button "Verify"
    assert_selector "[role=status]", text: "unchanged since they were written"
  end

  def test_a_program_gets_a_token_until_it_is_revoked
    open_as("Olav", "/people")
    fill_in "Used by", with: "nightly report"
    select "viewer", from: "Token role"
    click_button "Create token"
    secret = find("[data-told]").text
    asked = -> { send_elsewhere(:Get, "/api/status", nil, "authorization" => "Bearer #{secret}").code }
    assert_equal "200", asked.call
    within("[data-token='nightly report']") { click_button "Revoke" }
    assert_no_selector "[data-token]"
    assert_equal "401", asked.call
  end

  def test_one_logs_in_at_another_provider
    open_page("/fleet")
    click_link "Log in with harbour login"
    click_link "Sunniva Strand"
    assert_selector :button, "logged in as sunniva"
    assert_selector "nav a", text: "Fleet"
    menu("sunniva", "Log out")
    open_page("/?login=unknown")
    assert_selector "[role=alert]", text: "You are not known here"
  end

  def test_who_was_logged_out_elsewhere_notices
    open_as("Vera", "/fleet")
    assert_selector "[data-machine]"
    other = log_in_elsewhere("Vera")
    menu("Vera", "Active sessions")
    assert_selector "[data-browser=other]", text: "another browser"
    end_all_but(other)
    within("[role=dialog]") { click_button "Log out", match: :first }
    assert_selector :button, "Log in"
    assert_no_text "gate-tar-1"
  end

  # @return [String] cookie of a browser that is no browser
  def log_in_elsewhere(name)
    answer = send_elsewhere(:Post, "/api/session", { name: name, password: PASSWORD })
    answer["set-cookie"][/\Anorthdrift=\h+/]
  end

  def end_all_but(cookie) = send_elsewhere(:Delete, "/api/session/browsers", nil, "Cookie" => cookie)

  def send_elsewhere(method, path, object, **headers)
    address = URI("#{place.address}#{path}")
    request = Net::HTTP.const_get(method).new(
      address, { "content-type" => "application/json", "user-agent" => "another browser" }.merge(headers)
    )
    request.body = JSON.generate(object) if object
    Net::HTTP.start(address.host, address.port) { |http| http.request(request) }
  end

  # With what an app on a telephone would show.
  def test_a_code_of_an_app_is_needed_once_it_is_turned_on
    open_as("Ada")
    menu("Ada", "Turn on two-factor login")
    fill_in "Your password", with: PASSWORD
    click_button "Continue"
    app = ROTP::TOTP.new(find("[data-key]")["data-key"])
    moment = place.now
    fill_in "Code shown by the app", with: app.at(moment - 30)
    click_button "Turn on"
    recovery = find("[data-codes]").text.lines.first.strip
    click_button "I have saved them"
    menu("Ada", "Log out")
    log_in("Ada")
    assert_no_selector "[role=alert]"
    log_in_with(recovery)
    menu("Ada", "Log out")
    log_in("Ada")
    log_in_with(recovery, as: nil)
    assert_selector "[role=alert]", text: "wrong code"
    log_in_with(app.at(place.now + 30))
    menu("Ada", "Turn off two-factor login")
    fill_in "Your password", with: PASSWORD
    click_button "Turn off"
    assert_no_selector "[role=dialog]"
    menu("Ada", "Log out")
    log_in("Ada")
    assert_selector :button, "logged in as Ada"
  end

  def log_in_with(code, as: "Ada")
    fill_in "Code", with: code
    click_button "Log in"
    assert_selector(:button, "logged in as #{as}") if as
  end

  def test_one_chooses_another_password
    open_as("Runa")
    menu("Runa", "Change password")
    fill_in "Old password", with: "wrong"
    fill_in "New password", with: "plover-quarry-seven"
    click_button "Set password"
    assert_selector "[role=alert]", text: "the old password is wrong"
    fill_in "Old password", with: PASSWORD
    click_button "Set password"
    assert_no_selector "[role=dialog]"
    menu("Runa", "Log out")
    log_in("Runa", "plover-quarry-seven")
    menu("Runa", "Change password")
    fill_in "Old password", with: "plover-quarry-seven"
    fill_in "New password", with: PASSWORD
    click_button "Set password"
    assert_no_selector "[role=dialog]"
  end
end
