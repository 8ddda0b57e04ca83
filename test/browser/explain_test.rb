# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"
require "digest"

# What broke, what changed before, and the case that keeps it: as a person plays the morning after.
class ExplainBrowserTest < Northdrift::BrowserTest
  plays

  def yesterday = Northdrift::Worlds::YESTERDAY

  def stall(more = "") = open_page("/?from=#{yesterday}T06:02:00Z&to=#{yesterday}T06:26:00Z#{more}")

  def first_cause = find("[data-candidate='1']").text

  def open_line(words)
    eventually { shown.any? { |row| row.include?(words) } }
    find("[data-line]", text: words, match: :first).click
    assert_selector "[aria-label='Chosen line']"
  end

  # From the landing page to why the gate at Tarnholm restarted.
  def test_from_the_landing_page_to_the_verdict_of_a_restart
    open_page
    click_link "Logbook"
    click_link "Restarts"
    within("[data-restart='gate-tar-1']") { assert_text "a kernel panic or stop error" }
    within("[data-restart='tix-app-1 bookingd']") { assert_text "want of memory" }
    within("[data-restart='tix-db-1']") do
      assert_text "the audit trail of hv-1 was gathered at the time and has no word of it"
    end
  end

  # The change is first from the booking's time-out, from the memory kill, and from the kiosk's error.
  def test_what_changed_before_the_stall
    ["%22timed+out+after%22", "%22out+of+memory%22", "%22print+voucher+failed%22"].each do |find|
      stall("&find=#{find}")
      open_line(if find.include?("voucher")
        "print voucher"
      else
        find.include?("memory") ? "Out of memory" : "timed out"
      end)
      click_button "what changed before"
      assert_includes first_cause, "olav changed the configuration: interface vlan 40, mtu 9000 -> 1500"
    end
    assert_selector "[data-onset]", text: "It began at"
    assert_selector "[data-unknown] li", minimum: 1
    assert_text "New in those minutes"
  end

  # An alert came by mail: all that is known is when, and of which machine.
  def test_what_changed_before_a_moment_that_a_person_names
    open_page("/logbook")
    click_link "What changed before"
    fill_in "Noticed", with: "when pigs fly"
    click_button "What changed before?"
    assert_text "not understood"
    fill_in "Noticed", with: "#{yesterday}T06:15:00Z"
    fill_in "On machine", with: "tix-app-1"
    click_button "What changed before?"
    assert_includes first_cause, "olav changed the configuration: interface vlan 40, mtu 9000 -> 1500"
    assert_selector "[data-onset]", text: "It began at"
    refresh
    assert_equal "tix-app-1", find_field("On machine").value
    assert_selector "[data-candidate='1']"
  end

  def test_happenings_stand_between_the_lines_and_on_the_rail
    stall("&find=%22out+of+memory%22")
    assert_selector "[data-mark]", minimum: 4
    find("[data-told]", text: "ida changed the configuration").click
    assert_selector "[aria-label='Chosen line']", text: "mtu 1500 -> 9000"
  end

  def pin_line(words)
    open_line(words)
    keys("p")
  end

  # A case for the stall: pinned from four screens, explained, printed, closed, and shown where it comes again.
  def test_a_case_is_built_for_the_stall_and_its_report_printed
    pin_from_four_screens
    explain_the_case
    report
    click_button "Close the case"
    assert_text "closed"

    it_is_shown_where_it_comes_again
  end

  def pin_from_four_screens
    stall("&find=%22timed+out+after%22")
    pin_line("timed out after")
    within("[role=dialog]") do
      fill_in "What is it about?", with: "Ticket hall stall"
      click_button "Start the case"
    end
    assert_selector "[data-case]", text: "pinned"
    stall("&find=%22out+of+memory%22")
    pin_line("Out of memory")
    stall("&view=patterns&find=gate*")
    assert_selector "[data-pattern]", text: "no answer from ticketing"
    find("[data-pattern]", text: "no answer from ticketing").click_button("pin")
    open_page("/logbook?text=mtu")
    assert_selector "[data-happening]", count: 2
    find("[data-happening]", text: "9000 -> 1500").click_button("pin")
    stall("&find=severity+%3E%3D+error")
    click_button "make"
    find("[role=menuitem]", text: "a chart of it in the case").click
  end

  def explain_the_case
    find("button[data-case]").click
    find("[role=menuitem]", text: "open “Ticket hall stall”").click
    assert_selector "[data-pin]", count: 5
    assert_equal(%w[chart happening line line pattern], all("[data-pin]").map { |one| one["data-pin"] }.sort)
    find("[data-pin=happening]").find("button[aria-label^='more for']").click
    find("[role=menuitem]", text: "it began here").click
    assert_selector "[data-pin][data-onset]", count: 1
    assert_selector "[data-pin=happening][data-onset]"
    fill_in "Cause", with: "MTU 1500 on vlan 40"
    find_field("Remedy").click
    fill_in "Remedy", with: "MTU put back to 9000"
    find_field("Notes").click
  end

  def it_is_shown_where_it_comes_again
    stall("&find=%22timed+out+after%22")
    open_line("timed out after")
    assert_selector "[data-remedies]", text: "MTU put back to 9000"
    stall("&view=patterns&find=gate*")
    find("[data-pattern]", text: "no answer from ticketing").click_link("seen before")
    assert_equal "MTU put back to 9000", find_field("Remedy").value
    open_page("/cases?text=vlan")
    assert_selector "[data-case-row='Ticket hall stall']"
  end

  def report
    Dir.mktmpdir do |dir|
      page.driver.browser.execute_cdp("Browser.setDownloadBehavior", behavior: "allow", downloadPath: dir)
      { "PDF, to be printed" => "pdf", "HTML, one file" => "html", "Markdown" => "md" }.each do |label, ending|
        click_button "Report"
        find("[role=menuitem]", text: label).click
        path = eventually { Dir[File.join(dir, "*.#{ending}")].first }
        eventually { File.size(path).positive? }
        next assert_equal("%PDF", File.binread(path, 4)) if ending == "pdf"

        text = File.read(path)
        ["Ticket hall stall", "MTU put back to 9000", "SHA-256"].each { |words| assert_includes text, words }
      end
    end
  end

  def test_a_rule_of_ones_own_from_a_question
    stall("&find=%22backlog+cleared%22")
    click_button "make"
    find("[role=menuitem]", text: "a rule for the logbook").click
    fill_in "Lines with", with: '"backlog cleared"'
    fill_in "Parts of the message to take", with: 'cleared, (?P<left>\d+) waiting'
    fill_in "Says", with: "the backlog is worked off, {left} wait"
    assert_selector "[data-trial]", text: /lines have it/
    click_button "Keep the rule"
    assert_selector "[data-own-rule]", text: "the backlog is worked off"
    open_page("/logbook?text=backlog&routine=shown")
    assert_selector "[data-happening]", text: "the backlog is worked off, 0 wait", wait: 120
    click_link "Rules"
    within("[data-own-rule]") { click_button "Remove" }
    assert_text "is removed"
  end
end

# The fleet, as a person looks after it.
class FleetBrowserTest < Northdrift::BrowserTest
  plays

  def test_machines_are_grouped_and_lead_to_their_lines
    open_page("/fleet")
    assert_selector "[data-machine]", count: 23
    find("[data-machine='gate-tar-1']").click_link("gate-tar-1")
    assert_text "host.name = gate-tar-1"
    open_page("/fleet?by=role&text=kiosk")
    assert_selector "[data-machine]", count: 4
  end

  def test_the_map_narrows_by_click_and_by_dragging
    open_page("/fleet/map")
    find("[data-box='sw-core-1']").click
    assert_text "host.name = sw-core-1"
    open_page("/fleet/map")
    left, right = %w[rtr-auk-1 hv-2].map { |name| find("[data-box='#{name}']").native.rect }
    browser = page.driver.browser
    box = find("[data-map]").native.rect
    browser
      .action
      .move_to_location((left.x - 4).to_i.clamp(box.x.to_i + 1, 2000), (left.y - 6).to_i)
      .click_and_hold
      .move_to_location((right.x + right.width).to_i, (right.y + 20).to_i)
      .release
      .perform
    assert_text "host.name in ("
    assert_text "rtr-auk-1"
  end

  def test_what_is_said_of_a_machine_is_a_field_of_its_lines
    open_page("/fleet?text=dns-1")
    click_button "change dns-1"
    within("[role=dialog]") do
      fill_in "Role", with: "resolver"
      click_button "Keep"
    end
    assert_selector "[data-machine='dns-1']", text: "resolver"
    open_page("/?find=host.role+%3D+resolver")
    eventually { total.positive? && shown.all? { |row| row.include?("dns-1") } }
    find("[data-line]", match: :first).click
    assert_selector "[aria-label='Chosen line']", text: "Its machine"
    open_page("/fleet?text=dns-1")
    click_button "change dns-1"
    within("[role=dialog]") do
      fill_in "Role", with: "names and addresses"
      click_button "Keep"
    end
    assert_selector "[data-machine='dns-1']", text: "names and addresses"
  end

  def test_availability_down_to_what_caused_it
    open_page("/fleet/availability?by=role")
    find("[data-group='berth gate']").click_button("berth gate")
    assert_selector "[data-stretch=down]", text: "a kernel panic"
    find("[data-stretch=down]", text: "gate-tar-1").click_link("lines")
    assert_selector "[aria-label='Chosen line']", text: "booting after watchdog reset"
  end

  def test_arrows_are_proposed_by_the_lines
    open_page("/fleet/map")
    click_button "Propose arrows"
    assert_selector "[data-proposal='tix-app-2 weather-1']", text: "names weather-1"
  end
end
