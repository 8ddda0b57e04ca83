# frozen_string_literal: true

require_relative "../test_helper"

# Dates that two countries read in two ways: a file decides as a whole.
class DateOrderTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  def clock(order = nil) = Reading::Clock.new(reference_us: micros(NOW), date_order: order)
  def order(*dates) = Reading::DateOrder.of(dates.map { |date| "#{date} 06:12:08 open\n" }.join.b, clock)&.to_a

  def test_a_day_beyond_twelve_tells_the_order_of_all
    assert_equal ["day first", true], order("05/11/2026", "13/11/2026")
    assert_equal ["month first", true], order("11/05/2026", "11/13/2026")
    assert_equal ["year first", false], order("26/11/13", "26/11/14")
    assert_nil order("2026-11-13")
  end

  # NOW is 23 November 2026.
  def test_else_what_goes_on_in_time_and_is_not_after_the_file
    assert_equal ["day first", false], order("05/11/2026", "06/11/2026", "07/11/2026")
    assert_equal ["month first", false], order("11/05/2026", "11/06/2026", "11/07/2026")
    assert_equal ["month first", false], order("11/12/2026"), "12 November; 11 December is to come"
    assert_equal ["month first", false], order("01/02/2026", "01/03/2026"), "a day in between, not a month"
  end

  def test_the_order_holds_for_every_line
    read = ->(text, order) { Reading::Stamp.read(text.b, clock(order))&.then { |found| Time.at(0, found.us, :usec).utc } }
    assert_equal Time.utc(2026, 11, 5, 6, 12, 8), read.call("05/11/2026 06:12:08", "day first")
    assert_equal Time.utc(2026, 5, 11, 6, 12, 8), read.call("05/11/2026 06:12:08", "month first")
    assert_equal Time.utc(2026, 11, 5, 6, 12, 8), read.call("05/11/2026 06:12:08", nil), "the nearest before the file's"
    assert_equal Time.utc(2026, 11, 13, 6, 12, 8), read.call("13/11/2026 06:12:08", "month first"), "there is one only"
    assert_nil read.call("13/13/2026 06:12:08", nil)
  end
end
