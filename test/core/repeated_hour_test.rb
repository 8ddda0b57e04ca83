# frozen_string_literal: true

require_relative "../test_helper"

# The hour that comes twice: in Oslo clocks were put back at 01:00 UTC on 25 October 2026 (IANA time zone database).
class RepeatedHourTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  def times(text, reference: Time.utc(2026, 10, 26), zone: "Europe/Oslo")
    records(text, zone: zone, reference: reference).map do |event|
      "#{event.time.strftime('%H:%M')}#{'?' if event.inferred.include?(:repeated_hour)}"
    end
  end

  def lines(*clocks) = clocks.map { |clock| "2026-10-25 #{clock}:00 tick\n" }.join

  def test_who_jumps_back_is_in_the_second
    assert_equal %w[23:59 00:10 00:35 00:59 01:00 01:20 01:59 02:00],
                 times(lines("01:59", "02:10", "02:35", "02:59", "02:00", "02:20", "02:59", "03:00"))
  end

  def test_lines_that_are_a_little_out_of_order_jump_nowhere
    assert_equal %w[23:59 00:10 00:07 00:11], times(lines("01:59", "02:10", "02:07", "02:11"))
  end

  def test_what_nothing_tells_is_marked
    assert_equal %w[00:10? 00:20], times(lines("02:10", "02:20"))
    assert_equal %w[23:00 00:10?], times(lines("01:00", "02:10"))
    assert_equal %w[00:10], times(lines("02:10"), reference: Time.utc(2026, 10, 25, 0, 11)), "the file is of the first"
    assert_equal %w[01:10], times(lines("02:10"), reference: Time.utc(2026, 10, 25, 1, 11)), "it was just received"
  end

  def test_other_hours_other_zones_and_stamps_with_a_zone
    assert_equal %w[02:10 01:10], times(lines("03:10", "02:10"))
    assert_equal %w[02:10], times(lines("02:10"), zone: "UTC")
    assert_equal %w[06:10], times(lines("02:10"), zone: "America/New_York")
    assert_equal %w[00:10 00:10], times("2026-10-25T02:10:00+02:00 a\n2026-10-25T02:10:00+02:00 b\n")
    assert_equal %w[01:30], times("2026-03-29 03:30:00 spring\n", reference: Time.utc(2026, 4, 1))
  end
end
