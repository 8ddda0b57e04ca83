# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"

# What nobody made a rule for: seen, understood, and said what it is.
class UnusualBrowserTest < Northdrift::BrowserTest
  plays demo: true

  def counts = find("[data-counts]").text

  # The stall of yesterday: one service's symptoms stand under the worst of them.
  def test_from_what_is_unusual_to_its_lines
    open_page("/alerts")
    click_link "Unusual"
    row = find("[data-oddity=pattern]", text: "pool exhausted", match: :first)
    assert_includes row.text, "bookingd on tix-app-1"
    row.click_button(text: /more of bookingd at that time/)
    assert_selector "[data-under]", text: "retry"
    row.click
    within("aside") do
      assert_text "A pattern that was never there: bookingd on tix-app-1"
      assert_selector "svg[aria-label^='lines by hour']"
      click_link "Its lines"
    end
    assert_selector "[data-line]", text: "pool exhausted"
    assert_selector "[data-total]", text: "1"
  end

  def test_what_is_normal_now_is_listed_no_more_until_it_is_opened_again
    open_page("/alerts/unusual")
    before = counts
    one = find("[data-oddity=pattern]", text: "certificate CN=")
    one.click
    assert_selector "aside", text: "gatectl on gate-auk-1"
    send_keys "n"
    assert_no_selector "[data-oddity]", text: "certificate CN="
    assert_text "It is not listed any more."
    assert_includes counts, "1 normal"
    click_button "Undo"
    assert_selector "[data-oddity]", text: "certificate CN="
    assert_equal before, counts
  end

  def test_muting_says_why
    open_page("/alerts/unusual?priority=0")
    find("[data-oddity=more]", text: "Failed password").click
    click_button "Mute…"
    fill_in "Why", with: "a test of the bastion"
    click_button "Mute"
    assert_no_selector "[data-oddity]", text: "Failed password"
    find("label", text: "muted").click
    find("[data-oddity=more]", text: "Failed password").click
    assert_selector "aside", text: "a test of the bastion"
    click_button "Open again"
    assert_text "Nothing is muted."
  end

  # Nothing in a source may be worth a look.
  def test_a_source_is_left_out_and_watched_again
    open_page("/alerts/unusual")
    find("[data-oddity=pattern]", text: "print voucher failed").click
    source = within("aside", text: "kiosk") { find("[data-source]", match: :first)["data-source"] }
    within("aside") { find("[data-source='#{source}']").click_button("Leave out") }
    assert_selector "[data-source='#{source}']", text: "Watch again", minimum: 2
    within("aside") { find("[data-source='#{source}']").click_button("Watch again") }
    assert_no_text "Watch again"
  end

  # What is of little matter is asked for.
  def test_priorities
    open_page("/alerts/unusual")
    assert_selector "[data-oddity]"
    assert_match(/\d+ of less priority/, counts)
    urgent = counts[/\d+/].to_i
    find("[aria-label='From which priority']").click
    find("[role=option]", text: "any priority").click
    assert_no_text "of less priority"
    assert_operator counts[/\d+/].to_i, :>, urgent
  end
end
