# frozen_string_literal: true

require_relative "../test_helper"

class WindowsTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  # Words, said on Monday 23 November 2026 at 13:00 in Oslo (UTC+1), and the window in UTC.
  WORDS = {
    "yesterday noon" => "22T10:45:00 22T11:15:00", "14 Nov 06:12 ± 5 min" => "14T05:07:00 14T05:17:00", "last tuesday" => "16T23:00:00 17T23:00:00", "today 06:02 – 06:26" => "23T05:02:00 23T05:26:00",
    "yesterday 06:02-06:26" => "22T05:02:00 22T05:26:00", "last 6 hours" => "23T06:00:00 23T12:00:00", "since boot of tix-app-1" => "22T05:00:00 23T12:00:00",
    "2026-11-22T06:12:08Z to 2026-11-22T06:14:08Z" => "22T06:12:08 22T06:14:08", "yesterday" => "21T23:00:00 22T23:00:00", "2 hours ago" => "23T09:45:00 23T10:15:00", "22 Nov" => "21T23:00:00 22T23:00:00"
  }.freeze

  def words = Windows::Words.new(zone: "Europe/Oslo", now_us: micros(NOW), boots: ->(machine) { machine == "tix-app-1" ? micros(Time.utc(2026, 11, 22, 5)) : nil })

  WORDS.each do |text, expected|
    define_method("test_#{text.tr('^a-z0-9', '_')}") do
      window = words.window(text)
      assert_equal expected, [window.from_us, window.to_us].map { |us| Time.at(0, us, :microsecond, in: "UTC").strftime("%dT%H:%M:%S") }.join(" ")
    end
  end

  def test_everything_is_open_and_nonsense_is_told
    assert_equal [nil, nil], words.window("everything").to_a
    assert_includes assert_raises(Windows::Words::Unclear) { words.window("the day the cat left") }.message, "not understood"
    assert_includes assert_raises(Windows::Words::Unclear) { words.window("since boot of nobody") }.message, "nobody"
  end
end
