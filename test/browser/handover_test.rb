# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"

# A shift is handed over by one, and acknowledged by the next.
class HandoverBrowserTest < Northdrift::BrowserTest
  plays people: { "ida" => "administrator", "olav" => "responder" }

  DAY = Northdrift::Worlds::YESTERDAY

  def enter(name)
    open_page("/handover?from=#{DAY}T06:00:00Z&to=#{DAY}T14:00:00Z")
    fill_in "Name", with: name
    fill_in "Password", with: Northdrift::Place::PASSWORD
    click_button "Log in"
    assert_selector "[data-section]"
  end

  def leave(name)
    click_button "logged in as #{name}"
    find("[role=menuitem]", text: "Log out").click
    assert_selector :button, "Log in"
  end

  # Who is not logged in is told so by every answer.
  def harmless = Regexp.union(super, /status of 401/)

  def test_a_shift_is_handed_over
    enter("ida")
    within("[data-section=restarts]") { assert_text "bookingd" }
    within("[data-section=changes]") { assert_text "olav changed the configuration" }
    fill_in "Remarks for the next shift", with: "The **link** of tix-db-1 is watched."
    click_button "Hand over"
    assert_text "Handed over by ida"
    assert_selector "strong", text: "link"
    assert_no_selector :button, "Acknowledge"
    leave("ida")
    enter("olav")
    within("aside[aria-label='Earlier handovers']") { first("a").click }
    click_button "Acknowledge"
    assert_text "Acknowledged by olav"
    assert_no_selector :button, "Edit remarks"
    within("[data-section=changes]") { first("a").click }
    assert_selector "[data-line]"
  end
end
