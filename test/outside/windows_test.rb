# frozen_string_literal: true

require_relative "../test_helper"
require "open3"
require "tzinfo"

# Times that are said in words, against date(1) of GNU coreutils, which reads many of the same words; in zones that
# change their clocks by an hour, by half of one, and never, on the days around that.
class WindowsOutsideTest < Minitest::Test
  include Northdrift::Waiting
  include Northdrift
  include Northdrift::Helpers

  ZONES = {
    "Europe/Oslo" => [Date.new(2026, 3, 29), Date.new(2026, 10, 25)],
    "America/New_York" => [Date.new(2026, 3, 8), Date.new(2026, 11, 1)],
    "Australia/Lord_Howe" => [Date.new(2026, 4, 5), Date.new(2026, 10, 4)],
    "Asia/Kathmandu" => [Date.new(2026, 2, 28), Date.new(2026, 12, 31)]
  }.freeze

  # @return [Array<Integer, nil>] seconds since 1970 that date(1) reads; nil where it says that there is no such time
  def date(zone, texts)
    texts.map do |text|
      Open3
        .capture2e({ "TZ" => zone, "LC_ALL" => "C" }, "date", "-d", text, "+%s")
        .then { |output, status| output.to_i if status.success? }
    end
  end

  ZONES.each do |zone, days|
    define_method("test_clocks_with_days_in_#{zone.tr('/', '_')}") do
      asked =
        days
          .flat_map { |day| [day - 1, day, day + 1] }
          .product(%w[00:00 01:30 02:15 03:00 12:00 23:59])
          .map { |day, clock| [day, clock] }
      told = date(zone, asked.map { |day, clock| "#{day} #{clock}" })
      period = TZInfo::Timezone.get(zone)
      asked.zip(told) do |(day, clock), seconds|
        # An hour that comes twice is the first for us; date(1) takes either.
        if seconds.nil? ||
           period.periods_for_local(Time.utc(day.year, day.month, day.day, *clock.split(":").map(&:to_i))).size > 1
          next
        end

        noon = period.local_to_utc(Time.utc(day.year, day.month, day.day, 23, 59, 59)).to_i
        words = Windows::Words.new(zone: zone, now_us: noon * 1_000_000)
        [
          "#{day} #{clock}", "today #{clock}", clock, "#{day.strftime('%-d %b %Y')} #{clock}",
          "#{clock} #{day.strftime('%b %-d %Y')}", "at #{clock}"
        ].each { |text| assert_equal seconds, words.moment(text) / 1_000_000, "#{text} in #{zone}, #{day}" }
        tomorrow = Windows::Words.new(zone: zone, now_us: (noon + 43_200) * 1_000_000)
        assert_equal seconds, tomorrow.moment("yesterday #{clock}") / 1_000_000, "yesterday #{clock} in #{zone}, #{day}"
      end
      whole = date(zone, days.flat_map { |day| ["#{day} 00:00", "#{day + 1} 00:00"] })
      days.zip(whole.each_slice(2)) do |day, bounds|
        words = Windows::Words.new(zone: zone, now_us: micros(Time.utc(2027, 6, 1)))
        [day.iso8601, day.strftime("%-d %b %Y"), day.strftime("%B %-d %Y"), day.strftime("%Y/%m/%d")].each do |text|
          assert_equal bounds, words.window(text).to_a.map { |us| us / 1_000_000 }, "#{text} in #{zone}"
        end
      end
    end
  end

  # Relative words, said now.
  def test_relative_words
    zone = "Europe/Oslo"
    texts = ["3 days ago", "2 weeks ago", "90 minutes ago", "5 hours ago", "yesterday 06:12", "today 00:05"]
    # Said again where a day has begun between the two.
    now, said = eventually do
      asked = Time.now.utc
      said = date(zone, texts)
      if TZInfo::Timezone
          .get(zone)
          .then { |place| place.to_local(asked).to_date == place.to_local(Time.now.utc).to_date }
        [asked, said]
      end
    end
    words = Windows::Words.new(zone: zone, now_us: micros(now))
    said.zip(texts) { |seconds, text| assert_in_delta seconds, words.moment(text) / 1_000_000, 10, text }
  end
end
