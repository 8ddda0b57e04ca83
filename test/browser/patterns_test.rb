# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"

# From two thousand lines to the few that are new: what a person does who does not know which word to look for.
class PatternsBrowserTest < Northdrift::BrowserTest
  plays shared: true

  def setup
    super
    open_page
    eventually { total > 1000 }
  end

  def rows = all("[data-pattern]", minimum: 1).map(&:text)

  def compare_with(name)
    find("[data-compared]").click
    find("[role=menuitem]", text: name).click
  end

  def test_what_is_new_against_the_day_before
    compare_with("the day before")
    assert_text(/\d+ new/)
    surveyed
    # What timed out, what was changed, and what the memory ran out for, without a word of it known before.
    story = eventually { rows.first(5).then { |first| first if first.join.include?("first time") } }
    ["configuration changed by", "timed out", "Out of memory: Killed process"].each do |words|
      assert story.any? { |row| row.include?(words) && row.include?("first time") },
             "#{words} is not among the first five"
    end
    # Errors that were there the day before too have sunk.
    refute(rows.first(20).any? { |row| row.include?("answered 404") || row.include?("loyalty") })

    # Symptoms that come together are one row, which unfolds.
    find("button", text: "and 4 with it").click
    eventually { rows.any? { |row| row.include?("no answer from ticketing") } }
    # What a pattern's open places hold, and what comes with it.
    find("[data-pattern]", text: "no answer from ticketing").find("button[aria-expanded]", match: :first).click
    assert_text "Comes at the same time"
    assert_text(/number, \d+ values, median/)

    find("input[aria-label='Order of the patterns']").click
    find("[role=option]", text: "changes, earliest first").click
    eventually { rows.first.include?("configuration changed by") }
    find("[data-pattern] button", text: "configuration changed by", match: :first).click
    eventually { total == 2 }
    assert_text "pattern = P"
    eventually { shown.all? { |line| line.include?("configuration changed by") } }
    go_back
    assert_selector "[data-patterns]"
  end

  def test_a_pattern_is_left_out_and_the_view_is_in_the_link
    keys("m")
    assert_selector "[data-patterns]"
    surveyed
    before = find("[data-patterns]").text[/\d+/].to_i
    lines = total
    find("[data-pattern] button", text: "not", match: :first).click
    assert_text "pattern != P"
    eventually { total < lines && find("[data-patterns]").text[/\d+/].to_i == before - 1 }
    visit current_url
    assert_selector "[data-patterns]", text: "#{before - 1} patterns"
    # Through fields, words and measure back to the lines.
    %w[Fields Words Measure Lines].each do |view|
      keys("m")
      assert_selector "button[aria-current=page]", text: view
    end
    assert_selector "[data-line]"
  end

  def test_the_pattern_of_a_line
    first("[data-line]").click
    find("h2", text: "Pattern").find(:xpath, "following-sibling::p").find("button").click
    assert_text "Narrowed by clicks"
    eventually { shown.any? }
    keys("m")
    assert_selector "[data-patterns]", text: "1 pattern in"
  end
end
