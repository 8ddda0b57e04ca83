# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"

# The night of the ticket hall stall: from the landing page to the configuration change that did it.
class NightTest < Northdrift::BrowserTest
  plays shared: true

  CHANGE = "configuration changed by olav from 10.40.0.31: interface vlan 40, mtu 9000 -> 1500"

  def test_the_night_with_clicks_alone
    open_page
    assert_text "06:02 – 06:26"
    eventually { total > 1000 }

    # By machine: who turned bad first?
    find("label", text: "Machines").click
    heads = eventually { all("[data-lane]").map { |head| head["aria-label"] }.then { |names| names if names.size > 5 } }
    assert_equal "only tix-app-1", heads.first

    # Only what is worse than usual: the harmless is switched off in the legend.
    %w[informational debug unset].each { |name| find("fieldset button", text: name).click }
    eventually { shown.any? { |line| line.include?("timed out after 30000 ms") } }
    find("[data-line]", text: "timed out after 30000 ms", match: :first).click
    assert_selector "[data-message]", text: "waiting for tix-db-1:5432"
    assert_text "JSON lines"

    # What happened on the way there, minutes before? Drag over the first half of the rail.
    drag_rail("06:07", "06:13")
    eventually { shown.any? { |text| text.include?(CHANGE[0, 30]) } }
    find("[data-line]", text: CHANGE[0, 30], match: :first).click
    assert_selector "[data-message]", text: CHANGE
    assert_text "sw-core-1"

    # The link reproduces it all.
    address = current_url
    visit "about:blank"
    visit address
    assert_selector "[data-message]", text: CHANGE
    assert_selector "fieldset [aria-pressed=false]", count: 3
  end

  # Drags over the rail between two moments, which it finds by the moments that stand beside it.
  def drag_rail(from, to)
    labels = evaluate_script(<<~JS)
      [...document.querySelectorAll("[data-rail] text")].map((text) => [text.textContent, text.getBoundingClientRect()])
        .map(([text, box]) => [text, box.right + 60, box.top + box.height / 2])
    JS
    labels = labels.select { |text, *| text.match?(/\A\d\d:\d\d\z/) }.map { |text, *place| [minutes(text), *place] }
    (first, x, top), (last, _, bottom) = labels.minmax
    height = ->(clock) { (top + ((minutes(clock) - first) * (bottom - top) / (last - first))).round }
    mouse = page.driver.browser.action
    mouse
      .move_to_location(x.round, height.call(from))
      .click_and_hold
      .move_to_location(x.round, height.call(to))
      .release
      .perform
  end

  def minutes(clock) = clock.split(":").map(&:to_i).then { |hour, minute| (hour * 60) + minute }

  def test_the_night_with_keys_alone
    open_page
    eventually { total > 1000 }
    keys("n") # the first error
    assert_selector "[data-line][aria-selected=true]"
    keys(:enter)
    assert_selector "[data-message]", text: /failed|answered 404/
    keys("/", "severity >= notice not loyalty*", :enter)
    eventually { total < 700 }
    keys("/")
    page.driver.browser.action.key_down(:control).send_keys("a").key_up(:control).perform
    keys("configuration changed", :enter)
    eventually { total == 2 && shown.size == 2 }
    keys("j")
    assert_selector "[data-line][aria-selected=true]"
    keys(:enter)
    assert_selector "[data-message]", text: CHANGE
    keys("]")
    eventually { !page.has_text?("06:02 – 06:26", wait: 0) }
    keys("[")
    assert_text "06:02 – 06:26"
    keys(:escape)
    assert_no_selector "[data-message]"
    keys("?")
    assert_text "Keys, and how to find"
  end

  def test_silence_stands_between_the_lines
    day = Northdrift::Worlds::YESTERDAY
    open_page("/?find=host.name+%3D+tix-db-1&from=#{day}T06:09:30Z&to=#{day}T06:12:30Z")
    eventually("no silence of tix-db-1") do
      page.execute_script("document.querySelector('[data-lines]')?.scrollBy(0, 150)")
      page.has_text?(/\d+ s of silence from tix-db-1/, wait: 0.5)
    end
  end

  def test_a_mistake_is_told_with_its_place_and_mended
    open_page
    eventually { total > 1000 }
    keys("/", "sevrity >= error", :enter)
    assert_text "Column 1: no line has a field “sevrity”; did you mean severity?"
    click_button "Use severity"
    assert_no_text "did you mean"
    eventually { total.between?(100, 400) }
  end

  def test_a_field_narrows_by_click_and_back_undoes_it
    open_page
    eventually { total > 1000 }
    before = total
    first("[data-line]").click
    find("dt", text: "host.name").find(:xpath, "..").find("dd button").click
    assert_text "Narrowed by clicks"
    eventually { total < before }
    go_back
    eventually { total == before }
  end

  def test_words_for_the_window_and_nothing_found
    open_page
    eventually { total > 1000 }
    find("[data-window]").click
    fill_in "In words", with: "yesterday noon ± 2 min"
    find_field("In words").send_keys(:enter)
    assert_text "11:58 – 12:02"
    keys("/", "no-such-word-at-all", :enter)
    assert_text "No line matches"
    click_button "Clear the find text"
    eventually { total.positive? }
  end

  def test_scrolling_through_many_lines_keeps_the_order
    open_page("/?find=booking")
    eventually { total > 10_000 }
    8.times do
      before = lines("row.dataset.line").last
      page.execute_script("document.querySelector('[data-lines]').scrollBy(0, 9000)")
      eventually { lines("row.dataset.line").last != before }
    end
    ids = eventually { lines("row.dataset.line").map(&:to_i).then { |list| list if list.size > 10 } }
    assert_equal ids.sort, ids
    keys("G")
    eventually { all("[data-line]").any? }
    keys("g")
  end
end
