# frozen_string_literal: true

require_relative "../test_helper"

# Timestamps in their written forms, one by one.
class StampTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  def clock(zone = "UTC") = Reading::Clock.new(zone: zone, reference_us: micros(NOW))

  # Text, the moment in UTC, bytes that the stamp takes, what was inferred.
  STAMPS = [
    ["2026-11-22T06:12:08Z text", "2026-11-22T06:12:08.000000Z", 20, []],
    ["2026-11-22T06:12:08.4Z", "2026-11-22T06:12:08.400000Z", 22, []],
    ["2026-11-22T06:12:08.417Z", "2026-11-22T06:12:08.417000Z", 24, []],
    ["2026-11-22T06:12:08.417365Z", "2026-11-22T06:12:08.417365Z", 27, []],
    ["2026-11-22T06:12:08.417365999Z", "2026-11-22T06:12:08.417365Z", 30, []],
    ["2026-11-22T06:12:08,417Z", "2026-11-22T06:12:08.417000Z", 24, []],
    ["2026-11-22T06:12:08+01:00", "2026-11-22T05:12:08.000000Z", 25, []],
    ["2026-11-22T06:12:08.5-0330", "2026-11-22T09:42:08.500000Z", 26, []],
    ["2026-11-22 06:12:08 +02", "2026-11-22T04:12:08.000000Z", 23, []],
    ["2026-11-22 06:12:08 UTC", "2026-11-22T06:12:08.000000Z", 23, []],
    ["2026-11-22 06:12:08", "2026-11-22T06:12:08.000000Z", 19, %i[zone]],
    ["2026-11-22_06:12:08.25 more", "2026-11-22T06:12:08.250000Z", 22, %i[zone]],
    ["2026-11-22 06:12:60", "2026-11-22T06:13:00.000000Z", 19, %i[zone]],
    ["Nov 22 06:12:08 host", "2026-11-22T06:12:08.000000Z", 15, %i[year zone]],
    ["Nov  2 06:12:08 host", "2026-11-02T06:12:08.000000Z", 15, %i[year zone]],
    ["Nov 22 06:12:08.417 host", "2026-11-22T06:12:08.417000Z", 19, %i[year zone]],
    ["Nov 22 2025 06:12:08 host", "2025-11-22T06:12:08.000000Z", 20, %i[zone]],
    ["Nov 22 06:12:08 UTC host", "2026-11-22T06:12:08.000000Z", 19, %i[year]],
    ["22/Nov/2026:06:12:08 +0100", "2026-11-22T05:12:08.000000Z", 26, []],
    ["Sun Nov 22 06:12:08 2026", "2026-11-22T06:12:08.000000Z", 24, %i[zone]],
    ["Sun, 22 Nov 2026 06:12:08 GMT", "2026-11-22T06:12:08.000000Z", 29, []],
    ["Sun, 22 Nov 2026 06:12:08 -0500", "2026-11-22T11:12:08.000000Z", 31, []],
    ["2026/11/22 06:12:08", "2026-11-22T06:12:08.000000Z", 19, %i[zone]],
    ["22.11.2026 06:12:08,250", "2026-11-22T06:12:08.250000Z", 23, %i[zone]],
    ["20261122T061208Z", "2026-11-22T06:12:08.000000Z", 16, []],
    ["20261122T061208.5+0100", "2026-11-22T05:12:08.500000Z", 22, []],
    ["1795327928", "2026-11-22T06:12:08.000000Z", 10, []],
    ["1795327928.25 text", "2026-11-22T06:12:08.250000Z", 13, []],
    ["1795327928417", "2026-11-22T06:12:08.417000Z", 13, []],
    ["1795327928417365", "2026-11-22T06:12:08.417365Z", 16, []],
    ["1795327928417365999", "2026-11-22T06:12:08.417365Z", 19, []]
  ].freeze

  STAMPS.each_with_index do |(text, time, size, inferred), index|
    define_method("test_stamp_#{index}") do
      # Twice, since the second time its minute is known.
      clock = clock()
      2.times do
        found = Reading::Stamp.read(text.b, clock)
        assert found, text
        assert_equal [time, size, inferred],
                     [Time.at(0, found.us, :microsecond, in: "UTC").strftime("%FT%T.%6NZ"), found.size, found.inferred],
                     text
      end
    end
  end

  NO_STAMPS = [
    "2026-13-01T00:00:00Z", "2026-00-10T00:00:00Z", "2026-02-30 10:00:00", "2026-11-22T24:00:01Z",
    "2026-11-22T06:61:00Z", "2026-11-22", "Nov 31 06:12:08 host", "Nob 22 06:12:08 host", "22.13.2026 06:12:08",
    "12345", "99999999999999999999", "17953279281", "0000000001 text", "T06:12:08", "", "2026-11-22T06:12:8Z"
  ].freeze

  NO_STAMPS.each_with_index do |text, index|
    define_method("test_no_stamp_#{index}") { assert_nil Reading::Stamp.read(text.b, clock), text }
  end

  def test_a_value_is_a_time_as_a_whole_or_not_at_all
    assert_nil Reading::Stamp.read_value("2026-11-22T06:12:08Z and more", clock)
    assert_equal 1_795_327_928_500_000, Reading::Stamp.read_value(1_795_327_928.5, clock).us
    assert_equal 1_795_327_928_417_000, Reading::Stamp.read_value(1_795_327_928_417, clock).us
  end

  # The clocks of Oslo go from 3:00 to 2:00 on 25 October 2026, and from 2:00 to 3:00 on 29 March (EU summer time).
  def test_hours_that_come_twice_or_never
    oslo = clock("Europe/Oslo")
    local = ->(text) { Time.at(0, Reading::Stamp.read(text.b, oslo).us, :microsecond, in: "UTC").strftime("%H:%M") }
    assert_equal "00:30", local.call("2026-10-25 02:30:00")
    assert_equal "02:30", local.call("2026-10-25 03:30:00")
    assert_equal "01:30", local.call("2026-03-29 02:30:00")
    assert_equal "01:30", local.call("2026-03-29 03:30:00")
  end

  # A device whose clock is a little ahead sends this year's line, not last year's.
  def test_a_stamp_shortly_after_the_reference_stays_in_its_year
    assert_equal 2026, Time.at(0, Reading::Stamp.read("Nov 23 20:00:00 h".b, clock).us, :microsecond, in: "UTC").year
    assert_equal 2025, Time.at(0, Reading::Stamp.read("Nov 25 20:00:00 h".b, clock).us, :microsecond, in: "UTC").year
  end
end
