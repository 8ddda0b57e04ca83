# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"
require "json"
require "net/http"
require "time"

# Two minutes before midnight in Oslo, at the end of the day that has 25 hours there: which day it is depends on whom
# one asks.
class MidnightTest < Northdrift::BrowserTest
  plays moment: Northdrift::Worlds::MIDNIGHT

  OSLO = "Europe/Oslo"
  # Days of Oslo in UTC; its clocks went back an hour on the 25th at 01:00 UTC.
  SATURDAY = ["2026-10-23T22:00:00Z", "2026-10-24T22:00:00Z"].freeze
  SUNDAY = ["2026-10-24T22:00:00Z", "2026-10-25T23:00:00Z"].freeze

  def choose_zone(name)
    find("button[aria-label^='time zone']").click
    find_field("Times are shown in").set(name)
    find("[role=option]", text: name, exact_text: true).click
    assert_selector "button[aria-label='time zone: #{name}']"
    keys(:escape)
  end

  def window = Rack::Utils.parse_query(URI(current_url).query).values_at("from", "to")

  def say(words)
    find("[data-window]").click
    fill_in "In words", with: words
    find_field("In words").send_keys(:enter)
  end

  def test_days_are_those_of_the_zone_that_a_person_chose
    open_page
    eventually { total > 1000 }
    choose_zone(OSLO)
    say("today")
    eventually { window.first == SUNDAY.first }
    assert_operator window.last, :<, "2026-10-25T23:30"
    assert_operator window.last, :>, "2026-10-25T22:58"
    eventually { total.positive? }
    say("yesterday")
    eventually { window == SATURDAY }
    eventually { total.positive? }
    assert_selector "[data-window]", text: "24 Oct"
    # In the hour that came twice nothing is lost: from two to three there are two hours.
    say("25 Oct 2026 02:00 to 25 Oct 2026 03:00")
    eventually { window == ["2026-10-25T00:00:00Z", "2026-10-25T02:00:00Z"] }
    choose_zone("UTC")
    say("today")
    eventually { window.first == "2026-10-25T00:00:00Z" && window.last > "2026-10-25T22:58" }
  end

  def test_the_logbook_and_availability_have_that_many_days
    open_page("/logbook")
    choose_zone(OSLO)
    assert_selector "[data-happening]", match: :first
    assert_selector "h2", text: "24 Oct"
    open_page("/fleet/availability?by=role")
    find("[data-group='berth gate']").click_button("berth gate")
    assert_selector "[data-stretch=down]", text: "a kernel panic"
  end
end

# Somebody works past midnight.
class PastMidnightTest < Northdrift::BrowserTest
  plays demo: false, moment: Northdrift::Worlds::MIDNIGHT + 110

  # What "today" and "yesterday" are is asked again and again: one day follows the other.
  def test_today_becomes_the_day_after
    starts = lambda do |words|
      uri = URI("#{place.address}/api/windows?#{URI.encode_www_form(words: words, zone: MidnightTest::OSLO)}")
      Time.at(JSON.parse(Net::HTTP.get(uri))["from_us"] / 1_000_000).utc.iso8601
    end
    told = []
    eventually("the day after") { (told << starts.call("today")).last == MidnightTest::SUNDAY.last }
    assert_empty told.uniq - MidnightTest::SUNDAY
    assert_equal MidnightTest::SUNDAY.first, starts.call("yesterday")
  end
end
