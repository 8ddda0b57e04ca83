# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"
require "socket"

# Lines that come in by themselves, as a person sets them up, sees them arrive and follows them.
class IntakeTest < Northdrift::BrowserTest
  def free_port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }

  def line(text, at: Time.now) = "<13>1 #{at.utc.strftime('%Y-%m-%dT%H:%M:%S.%6NZ')} alder app 7 - - #{text}"

  def send_lines(port, *texts) = TCPSocket.open("127.0.0.1", port) { |socket| texts.each { |text| socket.puts(line(text)) } }

  def add_source(name, port)
    open_page("/intake", demo: :intake)
    click_button "Add a source"
    fill_in "Name", with: name
    fill_in "Port", with: port
    within("[role=dialog]") { click_button "Add" }
    assert_text "Waiting for the first line"
    eventually { listening?(port) }
  end

  def listening?(port)
    TCPSocket.open("127.0.0.1", port, &:close) || true
  rescue SystemCallError
    false
  end

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

  def test_a_source_is_paused_removed_and_had_back
    port = free_port
    add_source("quay", port)
    send_lines(port, "one")
    assert_text "Lines are coming"
    find("button.mantine-Modal-close").click
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

  def test_a_setting_that_will_not_do_is_told_where_it_stands
    open_page("/intake", demo: :intake)
    click_button "Add a source"
    fill_in "Port", with: "70000"
    within("[role=dialog]") { click_button "Add" }
    assert_text "a port is a number from 1 to 65535"
  end
end
