# frozen_string_literal: true

require_relative "../test_helper"
require "active_support"
require "active_support/time"

# Days of a zone in steps, days of 23, 24 and 25 hours and those that are not there at all.
class WindowStepsTest < Minitest::Test
  include Northdrift

  HOUR = 3_600_000_000

  def starts(zone, from, to, hours)
    zone = ActiveSupport::TimeZone[zone]
    Windows::Steps.starts(*[from, to].map { |time| zone.parse(time).to_i * 1_000_000 }, hours * HOUR, zone)
      .map { |us| zone.at(us / 1_000_000).strftime("%d %H:%M") }
  end

  def test_steps_begin_at_midnight
    assert_equal ["22 06:00", "22 12:00", "22 18:00", "23 00:00"],
                 starts("UTC", "2026-11-22 07:30", "2026-11-23 06:00", 6)
    assert_equal ["22 00:00", "23 00:00"], starts("Europe/Oslo", "2026-11-22 00:00", "2026-11-23 00:01", 24)
    assert_equal ["22 00:00"], starts("Europe/Oslo", "2026-11-22 00:00", "2026-11-23 00:00", 24)
  end

  # Clocks go forward on 29 March 2026 and back on 25 October 2026 (tz database, rules EU and US: 8 March, 1 November).
  def test_days_of_23_and_25_hours
    assert_equal ["28 00:00", "29 00:00", "30 00:00"],
                 starts("Europe/Oslo", "2026-03-28 00:00", "2026-03-30 12:00", 24)
    assert_equal ["29 00:00", "29 07:00", "29 13:00", "29 19:00", "30 00:00"],
                 starts("Europe/Oslo", "2026-03-29 00:00", "2026-03-30 05:00", 6)
    assert_equal ["25 00:00", "25 05:00", "25 11:00", "25 17:00", "26 00:00"],
                 starts("Europe/Oslo", "2026-10-25 00:00", "2026-10-26 05:00", 6)
    hours = [%w[2026-03-08 2026-03-09], %w[2026-11-01 2026-11-02]].map do |from, to|
      starts("America/New_York", from, to, 1).size
    end
    assert_equal [23, 24], hours, "the last hour of the long day is two"
  end

  # Samoa had no 30 December 2011, and in São Paulo the day of 4 November 2018 began at one (tz database).
  def test_days_that_are_not_there
    assert_equal ["29 00:00", "31 00:00"], starts("Pacific/Apia", "2011-12-29 00:00", "2011-12-31 12:00", 24)
    assert_equal ["03 00:00", "04 01:00", "05 00:00"],
                 starts("America/Sao_Paulo", "2018-11-03 00:00", "2018-11-05 12:00", 24)
  end

  # Without gaps, whatever the zone and the step: each begins where the one before it ends.
  def test_every_moment_is_in_one
    random = seeded(7)
    zones = TZInfo::Timezone.all_identifiers.sample(40, random: random)
    zones.each do |name|
      from = (1_500_000_000 + random.rand(300_000_000)) * 1_000_000
      to = from + (random.rand(1..9) * 7 * HOUR)
      step = [1, 6, 24].sample(random: random) * HOUR
      all = Windows::Steps.starts(from, to, step, ActiveSupport::TimeZone[name])
      assert_operator all.first, :<=, from, name
      assert_operator all[1] || (to + 1), :>, from, name
      assert_operator all.last, :<, to, name
      sizes = all.each_cons(2).map { |one, other| other - one }
      assert_empty sizes.grep_v(1..(step * 2)), name
    end
  end
end
