# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"
require_relative "feeding"
require "mail"

# One trouble on three machines: one alert, one mail, what can be done with it, and how it stands on Now.
class TellingBrowserTest < Northdrift::BrowserTest
  plays demo: true

  include Northdrift::Feeding

  CHAIN = %w[sw-core-1 tix-db-1 tix-app-1].freeze
  RULE = {
    name: "In trouble", severity: "error", steps: "1. Look at the switch.", quiet: "10s",
    when: { count: { find: "trouble", at_least: 1, within: "1s", by: ["host.name"] } }
  }.freeze

  # Its place is told of it when it starts.
  def self.mail_server
    @mail_server ||= Northdrift::MailServer.new.tap { |server| ENV["NORTHDRIFT_MAIL_SERVER"] = server.place }
  end

  def self.leave
    super
    @mail_server&.stop
    @mail_server = nil
    ENV.delete("NORTHDRIFT_MAIL_SERVER")
  end

  def setup
    super
    server
    @port = probing
    request(Net::HTTP::Get, "/api/alert-rules")["rules"]
      .each { |rule| request(Net::HTTP::Delete, "/api/alert-rules/#{rule['id']}") }
    request(Net::HTTP::Post, "/api/alert-rules", definition: RULE, enabled: true)
  end

  def server = self.class.mail_server

  def trouble(machine, text = "trouble")
    time = place.now.utc.strftime("%Y-%m-%dT%H:%M:%S.%6NZ")
    TCPSocket.open("127.0.0.1", @port) { |socket| socket.puts("<11>1 #{time} #{machine} app 7 - - #{text}") }
  end

  def subjects = server.taken.map { |_, data| Mail.read_from_string(data).subject }

  def make_route
    open_page("/alerts/routes")
    click_button "New route"
    fill_in "To", with: "nobody"
    fill_in "Name", with: "On call"
    click_button "Save"
    assert_text "“nobody” is no mail address"
    fill_in "To", with: "oncall@tarnholm.example"
    fill_in "Subject", with: "{{ alerts[0].name }} on {{ alerts[0].where }}"
    assert_selector "[data-subject]", text: "In trouble on"
    click_button "Save"
    assert_selector "[data-route='On call']", text: "warning or worse"
  end

  def test_one_trouble_is_one_alert_and_one_mail
    trouble("spare-9", "trouble before there is a route")
    open_alerts(text: "spare-9")
    make_route
    CHAIN.each { |machine| trouble(machine) }
    assert_selector "[data-delivery=sent]", text: "In trouble", count: 1
    # Whose line comes first, of whom is told.
    eventually("the mail") { subjects.any? }
    assert_includes CHAIN.map { |machine| ["In trouble on #{machine}"] }, subjects
    click_button "more for On call"
    find("[role=menuitem]", text: "Send a test").click
    assert_selector "[data-delivery=sent]", text: "test"
    unfold_and_never_fold_again
    on_now
  end

  def unfold_and_never_fold_again
    open_page("/alerts")
    click_button "▸ 2 more because of sw-core-1"
    assert_selector "[data-folded]", count: 2
    find("[data-folded]", text: "tix-app-1").click
    assert_selector "[data-fold]", text: "tix-app-1 needs tix-db-1 needs sw-core-1"
    click_button "Never fold this rule"
    assert_no_selector "[data-fold]"
    CHAIN.each { |machine| assert_selector "[data-alert='In trouble'][data-state=open]", text: machine }
  end

  # Where lines come in, the pages begin with it.
  def on_now
    open_page("/")
    assert_selector "[data-wrong='In trouble'] b", text: "tix-db-1"
    within(find("[data-wrong='In trouble']", text: "tix-db-1")) { click_button "Take" }
    assert_selector "[data-wrong='In trouble']", text: "taken by"
    assert_selector "[data-strip=bookingd]"
    find("label", text: "machines").click
    assert_selector "[data-strip=tix-app-1]"
    keys("j")
    assert_selector "[data-chosen]", count: 1
    keys(:enter)
    assert_selector "h1", text: "Alerts"
  end

  # It is raised all the same.
  def test_a_mute_and_planned_work_are_quiet
    trouble("spare-7")
    open_alerts(text: "spare-7")
    find("[data-alert]", text: "spare-7").click
    find("aside", text: "spare-7")
    keys("m")
    fill_in "Why", with: "new mast"
    within("[role=dialog]") { click_button "Mute" }
    assert_selector "[data-quiet]", text: "new mast"
    assert_no_selector "[data-alert]", text: "spare-7"
    find("label", text: "quiet").click
    assert_selector "[data-alert]", text: "muted: new mast"
    plan_work
    find("[data-quiet-time=mute]").click_button("End")
    assert_no_selector "[data-quiet-time=mute]"
    open_page("/alerts")
    assert_selector "[data-alert]", text: "spare-7"
  end

  def plan_work
    click_link "Quiet times"
    click_button "New maintenance window"
    fill_in "Machines", with: "host.site = ("
    within("[role=dialog]") { click_button "Save" }
    assert_selector "[role=dialog]", text: /column|expected|missing/i
    fill_in "Machines", with: "host.name = spare-8"
    fill_in "Why", with: "moves to another rack"
    within("[role=dialog]") { click_button "Save" }
    assert_selector "[data-quiet-time=maintenance]", text: "moves to another rack"
    trouble("spare-8")
    open_alerts("/alerts?show=quiet", text: "planned: moves to another rack")
    click_link "Quiet times"
  end
end
