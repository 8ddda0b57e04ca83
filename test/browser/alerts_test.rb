# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"
require_relative "feeding"

# From a line that explains a trouble to being told the next time, and to what helped.
class AlertsBrowserTest < Northdrift::BrowserTest
  plays demo: false

  include Northdrift::Feeding

  MINUTE = 60

  def close_with(remedy)
    click_button "Close…"
    fill_in "What helped?", with: remedy
    click_button "Close alert"
  end

  def test_a_line_is_watched_for_and_what_helped_is_offered_the_next_time
    port = free_port
    add_source("gates", port)
    make_rule_of_lines(port)
    send_lines(port, "pool exhausted again", "pool exhausted still")
    open_alerts(text: "alder")
    assert_selector "a[href='https://wiki.example/alder']", text: "book"
    assert_text "Desk’s"
    assert_selector "svg[aria-label*='the level is 2']"
    assert_selector "[data-open-alerts]"
    open_page("/fleet/map")
    find("[data-box-alerts=alder]", text: "1 alert").click
    assert_selector "[data-alert='Pool exhausted'][data-state=open]", text: "alder"
    open_page("/fleet")
    within("[data-machine=alder]") { click_link "Pool exhausted" }
    take_close_and_reopen
    send_lines(port, "pool exhausted anew", "pool exhausted", at: place.now + (20 * MINUTE))
    # What is there does not move while somebody looks at it.
    assert_selector "[data-alert='Pool exhausted']", count: 1
    click_button "1 new"
    assert_selector "[data-alert='Pool exhausted']", count: 2
    find("[data-alert='Pool exhausted'][data-state=open]").click
    assert_text "“recycled the pool”"
    click_button "Use this remedy"
    assert_equal "recycled the pool", find_field("What helped?").value
    click_button "Close alert"
    assert_selector "[data-alert='Pool exhausted'][data-state=closed]", count: 2
  end

  def make_rule_of_lines(port)
    send_lines(port, *(1..3).map { |number| "pool exhausted #{number}" })
    assert_text "Lines are coming"
    open_page("/?find=%22pool+exhausted%22")
    eventually { total == 3 }
    click_button "make ▾"
    find("[role=menuitem]", text: "Alert rule").click
    assert_selector "[data-trial]", text: "1 alert 3 lines"
    find("[data-level='5']").click
    assert_selector "[data-trial]", text: "0 alerts"
    find("[aria-label='times']").set("2")
    assert_selector "[data-trial]", text: "1 alert 3 lines"
    # On the rail of all lines; a mark leads to those that raised it.
    assert_selector "ol[aria-label='alerts over time'] li[data-alerts='1'] a[aria-label*='1 alert']", count: 1
    fill_in "Name", with: "Pool exhausted"
    fill_in "First steps", with: "1. Recycle it: [book](https://wiki.example/{host.name})."
    fill_in "Owner", with: "Desk"
    click_button "Save and switch on"
    assert_selector "[data-rule='Pool exhausted']"
  end

  # One that was closed by mistake is open again, and the mistake of that is taken back.
  def take_close_and_reopen
    click_button "Take"
    assert_selector "[data-state=taken]"
    close_with "recycled the pool"
    assert_text "No alert is like that."
    find("label", text: "all").click
    assert_selector "[data-alert][data-state=closed]", text: "recycled the pool"
    click_button "Reopen"
    assert_selector "[data-alert]", text: "reopened"
    keys("u")
    assert_selector "[data-alert][data-state=closed]"
  end

  # Three machines: one is found, all are chosen, and closed together.
  def test_many_are_closed_at_once
    port = free_port
    add_source("berths", port)
    open_page("/alerts/rules/new?find=gangway")
    fill_in "Name", with: "Gangway stuck"
    click_button "Save and switch on"
    assert_selector "[data-rule='Gangway stuck']"
    %w[elm oak yew].each { |machine| send_lines(port, "gangway stuck", machine: machine) }
    open_alerts("/alerts?find=gangway", count: 3)
    fill_in "Filter", with: "host.name = oak"
    assert_selector "[data-alert]", count: 1
    assert_text "1 open"
    fill_in "Filter", with: "host.name = ("
    assert_selector "[role=alert]"
    fill_in "Filter", with: "gangway"
    assert_selector "[data-alert]", count: 3
    find("[data-alert]", match: :first).click
    choose_two_and_close_them
    assert_selector "[data-alert]", count: 1
    click_button "Note…"
    fill_in "Note", with: "the third one waits for a part"
    click_button "Save"
    assert_selector "aside", text: "“the third one waits for a part”"
    close_with "renewed"
    assert_no_selector "[data-alert]"
  end

  def choose_two_and_close_them
    first = find("[data-alert][aria-selected=true]").text
    keys("x", "j")
    assert_no_selector "[data-alert][aria-selected=true]", text: first
    keys("x")
    assert_selector "[data-many]", text: "2 alerts chosen"
    within("[data-many]") { click_button "Close…" }
    fill_in "What helped?", with: "oiled"
    click_button "Close alert"
  end

  def test_a_rule_that_ships_is_switched_on
    open_page("/alerts/rules")
    within("[data-shipped='Disk full']") { click_button "Switch on" }
    assert_selector "[data-rule='Disk full'] input:checked", visible: :all
    assert_no_selector "[data-shipped='Disk full']"
    within("[data-rule='Disk full']") { click_link "Disk full" }
    assert_equal '"no space left on device"', find("[aria-label='lines']").value
  end
end
