# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"
require_relative "feeding"
require "cgi"

# What becomes of lines once they are in: put away and brought back, sent on, read by parsers in their order, too fast
# to read.
class UpkeepTest < Northdrift::BrowserTest
  plays demo: false

  include Northdrift::Feeding

  # Old lines go to a file of their day, and come back from it.
  def test_lines_are_put_away_and_brought_back
    port = free_port
    add_source("old crane", port)
    old = place.now - (40 * 86_400)
    send_lines(port, *(1..25).map { |number| "crane lifted #{number}" }, at: old)
    send_lines(port, "crane of today")
    assert_text "Lines are coming"
    comes("crane", 26)

    day = old.utc.strftime("%F")
    keep_thirty_days(day)
    open_page("/?find=crane")
    eventually { total == 1 }
    bring_back_and_put_away_again(day)
    find("[role=menuitem]", text: "Delete the file for good: 25 lines").click
    assert_text "Nothing was put away yet."
  ensure
    request(Net::HTTP::Put, "/api/keeping", days: nil, megabytes: nil, archive: true)
  end

  def keep_thirty_days(day)
    click_link "Intake"
    click_link "Keeping"
    assert_text "Nothing is forgotten."
    fill_in "Lines are kept for, in days", with: "30"
    assert_text "25 lines would be put away at once."
    find("label", text: "Put lines away before they are forgotten").click
    assert_text "25 lines would be lost at once."
    find("label", text: "Put lines away before they are forgotten").click
    click_button "Keep it so"
    assert_selector "[data-archive='#{day}']", text: "put away"
  end

  def bring_back_and_put_away_again(day)
    open_page("/intake/keeping")
    within("[data-archive='#{day}']") do
      assert_text "25"
      click_button "Bring back"
      assert_selector "button", text: "Put away again"
      click_link "lines"
    end
    eventually { total == 25 }
    assert_includes shown.first, "crane lifted 1"
    open_page("/intake/keeping")
    within("[data-archive='#{day}']") do
      click_button "Put away again"
      assert_selector "button", text: "Bring back"
      click_button "more for #{day}"
    end
  end

  # Listens as the other side.
  # @yieldparam got [Queue] messages that came
  # @yieldparam connected [Array<Socket>] what is open
  def listen(port)
    server = TCPServer.new("127.0.0.1", port)
    got = Queue.new
    connected = []
    thread = Thread.new do
      loop do
        connected << (socket = server.accept)
        while (size = socket.gets(" "))
          got << socket.read(size.to_i)
        end
      rescue SystemCallError, IOError
        next
      ensure
        connected.clear
      end
    end
    yield got, connected
  ensure
    thread&.kill
    server&.close
  end

  def drained(queue) = Array.new(queue.size) { queue.pop }

  def test_lines_of_a_question_are_sent_on_and_wait_for_who_is_not_there
    port = free_port
    onward = free_port
    add_source("tugs", port)
    send_lines(port, "tug before the relay")
    assert_text "Lines are coming"
    send_tugs_on(onward)
    what_comes_waits_and_is_sent(port, onward)
    click_button "more for head office"
    find("[role=menuitem]", text: "Remove").click
    assert_text "“head office” is removed"
    click_button "Undo"
    assert_selector "[data-relay='head office']"
  ensure
    request(Net::HTTP::Get, "/api/relays")["relays"].to_a.each do |relay|
      request(Net::HTTP::Delete, "/api/relays/#{relay['id']}")
    end
  end

  def send_tugs_on(onward)
    open_page("/intake/relays")
    assert_text "Lines stay here."
    click_button "Send lines on", match: :first
    within("[role=dialog]") do
      fill_in "Machine", with: "127.0.0.1"
      fill_in "Port", with: "none"
      fill_in "Only lines with", with: "tug and ("
      fill_in "Name", with: "head office"
      click_button "Send on"
      assert_text "number from 1 to 65535"
      fill_in "Port", with: onward.to_s
      click_button "Send on"
      assert_text "a condition is missing"
      fill_in "Only lines with", with: "tug"
      click_button "Send on"
    end
    assert_selector "[data-relay='head office']", text: "up to date"
  end

  # Nobody listens there: it says so, and what comes waits.
  def what_comes_waits_and_is_sent(port, onward)
    send_lines(port, "tug one", "ferry one", "tug two")
    assert_selector "[data-relay='head office']", text: "tries again"
    listen(onward) do |got, connected|
      eventually { got.size >= 2 }
      assert_selector "[data-relay='head office']", text: "up to date"
      sent = drained(got)
      assert_equal(["tug one", "tug two"], sent.map { |message| message[/tug \w+\z/] }.uniq)
      assert(sent.all? { |message| message.start_with?("<13>1 ") })
      within("[data-relay='head office']") do
        click_button "Pause"
        assert_text "paused"
      end
      eventually("the connection to be closed") { connected.empty? }
      send_lines(port, "tug three")
      rules_hold
      assert_empty drained(got)
      within("[data-relay='head office']") { click_button "Go on" }
      eventually { got.size >= 1 }
      assert_includes drained(got).last, "tug three"
    end
  end

  # Looks until so many lines are found: they may be on their way, and until the first is there a field that it brings
  # is told as unknown.
  def comes(find, count)
    eventually do
      open_page("/?find=#{CGI.escape(find)}")
      has_css?("[data-total]", text: /\A#{count}\b/, wait: 5)
    end
  end

  # The first parser that matches a line reads it; the order, the switch and the expression are a person's.
  def test_parsers_have_an_order_a_switch_and_versions
    port = free_port
    add_source("locks", port)
    %w[wide narrow].zip(["lock (?P<what>.+)", "lock (?P<state>open|shut) at (?P<level_m>[0-9.]+)"]) do |name, pattern|
      request(Net::HTTP::Post, "/api/parsers", name: name, pattern: pattern, types: {}, find: "", samples: [])
    end
    rules_hold
    plain(port, "lock open at 1.5")
    comes("parser = wide", 1)
    try_narrow_sooner
    plain(port, "lock shut at 2.5")
    comes("state = shut level_m > 2", 1)
    switch_narrow_off
    plain(port, "lock shut at 3.5")
    comes('what = "shut at 3.5"', 1)
    change_the_expression
  ensure
    request(Net::HTTP::Get, "/api/parsers")["parsers"].to_a.each do |parser|
      request(Net::HTTP::Delete, "/api/parsers/#{parser['id']}") if %w[wide narrow].include?(parser["name"])
    end
  end

  def plain(port, text) = TCPSocket.open("127.0.0.1", port) { |socket| socket.puts(text) }

  def try_narrow_sooner
    open_page("/intake/parsers")
    assert_text "The first that matches a line reads it."
    click_button "more for narrow"
    find("[role=menuitem]", text: "Try it sooner").click
    eventually do
      evaluate_script(
        "[...document.querySelectorAll('[data-parser]')].map((row) => row.dataset.parser)"
      ).then { |names| names.index("narrow") < names.index("wide") }
    end
    rules_hold
  end

  def switch_narrow_off
    open_page("/intake/parsers")
    find("input[aria-label='narrow is on']", visible: :all).ancestor("label", match: :first).click
    eventually do
      request(Net::HTTP::Get, "/api/parsers")["parsers"].find { |parser| parser["name"] == "narrow" }["enabled"] ==
        false
    end
    rules_hold
  end

  def change_the_expression
    open_page("/intake/parsers")
    within("[data-parser=wide]") { click_button "Change" }
    assert_text "Parser wide"
    fill_in "Expression", with: "lock (?P<what>"
    assert_text "missing"
    fill_in "Expression", with: "lock (?P<what>\\w+)"
    assert_text(/of the latest [\d,]+ lines match/)
    click_button "Save the parser"
    assert_selector "[data-parser=wide]", text: "version 2"
  end

  # More than can be read is thinned, and the screen says how much; the list ends with the latest line all the same.
  def test_what_is_too_fast_to_read_is_thinned
    port = free_port
    add_source("storm", port)
    send_lines(port, "storm begins")
    assert_text "Lines are coming"
    open_page("/?find=storm")
    eventually { total == 1 }
    click_button "follow"
    assert_selector "button[aria-pressed=true]:not([aria-busy=true])", text: "following"
    # A machine that is busy may take them in so slowly that nothing is thinned: it blows until it is too much.
    gusts = 0
    eventually do
      gusts += 4000
      send_lines(port, *(gusts - 3999..gusts).map { |number| "storm gust #{number}" })
      page.has_text?("too fast to read", wait: 3)
    end
    eventually { shown.last.include?("storm gust #{gusts}") }
    send_lines(port, "storm ends")
    eventually { shown.last.include?("storm ends") }
    assert_no_text "too fast to read"
    click_button "following"
    eventually { total == gusts + 2 }
  end

  # A noise rule is tried on the past, thins, ends by itself, and is switched off without being lost.
  def test_a_rule_that_keeps_one_in_so_many_and_ends
    port = free_port
    add_source("buoys", port)
    send_lines(port, *(1..40).map { |number| "buoy blinks #{number}" })
    assert_text "Lines are coming"
    open_page("/intake/noise/new?find=#{CGI.escape('buoy and blinks')}")
    assert_selector "[data-trial]", text: /taken 40 of/
    find("label", text: "keep one in so many").click
    assert_selector "[data-trial]", text: /taken 36 of/
    fill_in "One in so many is kept", with: "20"
    assert_selector "[data-trial]", text: /taken 38 of/
    find_field("It holds").click
    find("[role=option]", text: "for a day").click
    fill_in "Name", with: "blinking"
    click_button "Let the rule hold"
    assert_selector "[data-rule=blinking]", text: "keeps one in 20"
    assert_no_selector "[data-rule=blinking]", text: "no end"
    rules_hold
    send_lines(port, *(1..40).map { |number| "buoy blinks again #{number}" })
    # Two processes read, and each counts what it has kept itself.
    eventually { blinking["lines"] + lines_of("again") == 40 }
    taken = blinking["lines"]
    assert_includes 37..38, taken
    eventually { find("[data-rule=blinking]").has_text?(taken.to_s, wait: 1) }
    switch_blinking_off
    send_lines(port, "buoy blinks alone")
    comes("buoy", 81 - taken)
  ensure
    request(Net::HTTP::Delete, "/api/noise-rules/#{blinking['id']}") if blinking
  end

  # @return [Hash, nil] the rule as the server has it
  def blinking = request(Net::HTTP::Get, "/api/noise-rules")["rules"].find { |rule| rule["name"] == "blinking" }

  # @return [Integer]
  def lines_of(find) = request(Net::HTTP::Get, "/api/histogram?find=#{CGI.escape(find)}")["total"]

  def switch_blinking_off
    find("input[aria-label='blinking is on']", visible: :all).ancestor("label", match: :first).click
    eventually { blinking["enabled"] == false }
    rules_hold
  end
end
