# frozen_string_literal: true

require_relative "../test_helper"

# Where a page begins that was opened without a question.
class StretchTest < Northdrift::StoreTest
  include Northdrift

  def lines(first, count, apart: 3600)
    Array.new(count) { |index| "#{(Time.iso8601(first) + (index * apart)).utc.iso8601} alder app: n #{index}\n" }.join
  end

  def window = Store::Stretch.main.map { |us| us && Time.at(0, us, :microsecond, in: "UTC").strftime("%F %H:%M") }

  def test_all_of_it_where_there_is_no_gap
    assert_equal [nil, nil], window
    import_text(lines("2026-11-20T06:00:30Z", 40, apart: 86_400))
    assert_equal [nil, nil], window
  end

  def test_what_is_far_off_is_left_aside
    import_text(lines("2026-11-20T06:00:30Z", 30), name: "a.log")
    import_text(lines("2019-01-03T00:00:00Z", 3), name: "b.log")
    assert_equal ["2026-11-20 06:00", nil], window, "its end is the end of all: what comes in later is seen"
    import_text(lines("2031-01-03T00:00:00Z", 3), name: "c.log", clock: -> { Time.utc(2032).to_i * 1_000_000 })
    assert_equal ["2026-11-20 06:00", "2026-11-21 11:01"], window
  end

  def test_the_latest_of_those_that_are_about_as_large
    import_text(lines("2026-11-01T00:00:00Z", 30) + lines("2026-11-20T00:00:00Z", 16))
    assert_equal ["2026-11-20 00:00", nil], window
    import_text(lines("2026-10-01T00:00:00Z", 40), name: "b.log")
    assert_equal ["2026-11-01 00:00", "2026-11-02 05:01"], window
  end
end
