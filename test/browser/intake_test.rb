# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"
require_relative "feeding"
require "cgi"

# Lines that come in by themselves, as a person sets them up, sees them arrive and follows them.
class IntakeTest < Northdrift::BrowserTest
  plays demo: false

  include Northdrift::Feeding

  def test_a_source_is_added_and_its_lines_are_followed
    port = free_port
    add_source("berths", port)
    assert_text "--port #{port}"
    send_lines(port, "first line of all")
    assert_text "Lines are coming"
    assert_text "first line of all"
    click_link "See them in Investigate"
    eventually { shown.any? { |row| row.include?("first line of all") } }
    send_lines(port, *(1..60).map { |number| "earlier #{number}" })
    click_button "follow"
    assert_selector "button", text: "following"
    eventually { shown.last.include?("earlier 60") }

    send_lines(port, "news of now")
    eventually { shown.last.include?("news of now") }

    # Who has scrolled up is not disturbed, and is told what waits.
    execute_script("document.querySelector('[data-lines]').scrollTop = 0")
    eventually { shown.any? { |row| row.include?("first line of all") } }
    send_lines(port, "waits below", "and this")
    click_button "2 new lines below ↓"
    eventually { shown.last.include?("and this") }
  end

  # A browser opens six connections to a server and no more (common practice, no source): the seventh page is told too.
  def test_many_pages_of_one_browser_follow
    port = free_port
    add_source("gates", port)
    send_lines(port, "gate 0 opens")
    assert_text "Lines are coming"
    pages = Array.new(7) { open_new_window }
    pages.each do |page|
      within_window(page) do
        open_page("/?find=gate")
        eventually { shown.any? { |row| row.include?("gate 0 opens") } }
        click_button "follow"
        assert_selector "button[aria-pressed=true]:not([aria-busy=true])", text: "following"
      end
    end
    send_lines(port, "gate 1 opens")
    pages.each { |page| within_window(page) { eventually { shown.last.include?("gate 1 opens") } } }
    pages.each(&:close)
  end

  def test_a_source_is_paused_removed_and_had_back
    port = free_port
    add_source("quay", port)
    send_lines(port, "one")
    assert_text "Lines are coming"
    within("[role=dialog]") { click_button "close" }
    within("[data-feed=quay]") do
      assert_text "running"
      click_button "Pause"
      assert_text "paused"
      click_button "Go on"
      assert_text "running"
      click_button "more for quay"
    end
    find("[role=menuitem]", text: "Remove").click
    assert_text "“quay” is removed"
    assert_no_selector "[data-feed=quay]"
    click_button "Undo"
    assert_selector "[data-feed=quay]"
  end

  def send_unread(port, count, from: 0)
    TCPSocket.open("127.0.0.1", port) do |socket|
      (from...(from + count)).each do |number|
        socket.puts("winch #{%w[bow stern][number % 2]} pulled #{number}kg of rope #{number % 7}")
      end
    end
  end

  def choose(*texts) = texts.each { |text| find("[data-sample] button", text: text, exact_text: true).click }

  def day_lines(feed) = find("[data-feed=#{feed}] [data-day-of=feed]").text.delete(",").to_i

  # From a line that nothing understands to a field that can be asked for, without typing an expression.
  def test_a_parser_is_made_from_an_unread_line_by_clicking
    port = free_port
    add_source("winches", port)
    send_unread(port, 40)
    assert_text "Lines are coming"
    within("[role=dialog]") { click_button "close" }
    within("[data-feed=winches]") { click_link "40" }
    within("[data-pattern]", text: "winch bow") { click_link "make a parser" }
    assert_selector "[data-sample]", text: "winch bow pulled"
    choose "bow", find("[data-sample]").text[/\d+(?=kg)/]
    fill_in "name of part 1", with: "winch"
    find_field("name of part 2", with: "pulled").send_keys(:tab)
    assert_text "40 of the latest 40 lines match"
    fill_in "Name", with: "winches"
    click_button "Save the parser"

    what_it_reads_can_be_asked_for(port)
  end

  def what_it_reads_can_be_asked_for(port)
    within("[data-parser=winches]") do
      assert_text "matches nothing"
      click_button "Apply to what is stored"
      assert_text "40 stored lines read"
    end
    send_unread(port, 10, from: 100)
    eventually { find("[data-parser=winches]").has_link?("50", wait: 1) }
    within("[data-parser=winches]") { click_link "50" }
    eventually { total == 50 }
    open_page("/?find=#{CGI.escape('winch = bow pulled >= 100')}")
    eventually { total == 5 }

    open_page("/intake/parsers")
    within("[data-parser=winches]") do
      click_button "Undo"
      assert_text "taken back"
      assert_selector "a", text: "10", exact_text: true
    end
  end

  def test_a_noise_rule_lets_the_volume_fall_until_it_is_undone
    port = free_port
    add_source("pumps", port)
    send_lines(port, *(1..30).map { |number| "pump idle for #{number} s" }, "pump broken")
    within("[role=dialog]") { click_button "close" }
    eventually { day_lines("pumps") == 31 }
    open_page("/?find=#{CGI.escape('pump')}&view=patterns")
    find("[data-pattern]", text: "pump idle").click_link("noise rule from", match: :first)
    assert_selector "[data-trial]", text: /taken 30 of/
    fill_in "Name", with: "idling"
    click_button "Let the rule hold"
    assert_selector "[data-rule=idling]", text: "drops"
    rules_hold

    send_lines(port, *(1..50).map { |number| "pump idle for #{number} s" }, "pump mended")
    eventually { find("[data-rule=idling]").has_text?("50", wait: 1) }
    click_button "Latest lines"
    assert_text "pump idle for 50 s"
    visit_intake
    eventually { day_lines("pumps") == 32 }

    click_link "Noise"
    within("[data-rule=idling]") { click_button "Remove" }
    assert_text "“idling” is removed"
    rules_hold
    send_lines(port, "pump idle for 99 s")
    visit_intake
    eventually { day_lines("pumps") == 33 }
    assert_no_selector "[data-rule=idling]"
  end

  def visit_intake = open_page("/intake")

  def test_a_hiding_rule_and_what_was_turned_away_are_seen_in_investigate
    port = free_port
    add_source("doors", port)
    send_lines(port, "door creaks", "door shuts")
    assert_text "Lines are coming"
    noise("door and creaks", "hide")
    open_page("/?find=door")
    eventually { total == 1 }
    click_button "1 noise rule hides lines: show them"
    eventually { total == 2 }
    noise("door and slams", "drop")
    click_button "follow"
    assert_selector "button[aria-pressed=true]:not([aria-busy=true])", text: "following"
    rules_hold
    send_lines(port, "door slams", "door opens")
    eventually { shown.last.include?("door opens") }
    click_button "1 turned away ▾"
    assert_text "alder door slams"
  ensure
    @rules.to_a.each { |id| request(Net::HTTP::Delete, "/api/noise-rules/#{id}") }
  end

  def noise(find, action)
    (@rules ||= []) << request(Net::HTTP::Post, "/api/noise-rules", find: find, action: action)["id"]
  end

  def test_a_setting_that_will_not_do_is_told_where_it_stands
    open_page("/intake")
    click_button "Add a source"
    fill_in "Port", with: "70000"
    within("[role=dialog]") { click_button "Add" }
    assert_text "a port is a number from 1 to 65535"
  end
end
