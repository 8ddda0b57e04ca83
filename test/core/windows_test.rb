# frozen_string_literal: true

require_relative "../test_helper"

class WindowsTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  BOOT = Time.utc(2026, 11, 22, 5)

  def words(now = NOW, zone = "Europe/Oslo")
    Windows::Words.new(
      zone: zone, now_us: micros(now), boots: ->(machine) { machine == "tix-app-1" ? micros(BOOT) : nil }
    )
  end

  # @return [String] on the wall clock of Oslo: day, clock – day, clock
  def said(text, now = NOW, zone = "Europe/Oslo")
    words(now, zone)
      .window(text)
      .to_a
      .map do |us|
        us &&
          Time
            .at(0, us, :microsecond, in: "UTC")
            .then do |time|
              TZInfo::Timezone.get(zone).utc_to_local(time).strftime("%m-%d %H:%M:%S").delete_suffix(":00")
            end
      end
      .join(" – ")
  end

  # Said on Monday 23 November 2026 at 13:00 in Oslo.
  {
    "yesterday noon" => "11-22 11:45 – 11-22 12:15", "14 Nov 06:12 ± 5 min" => "11-14 06:07 – 11-14 06:17",
    "last tuesday" => "11-17 00:00 – 11-18 00:00", "today 06:02 – 06:26" => "11-23 06:02 – 11-23 06:26",
    "yesterday 06:02-06:26" => "11-22 06:02 – 11-22 06:26", "last 6 hours" => "11-23 07:00 – 11-23 13:00",
    "since boot of tix-app-1" => "11-22 06:00 – 11-23 13:00",
    "2026-11-22T06:12:08Z to 2026-11-22T06:14:08Z" => "11-22 07:12:08 – 11-22 07:14:08",
    "yesterday" => "11-22 00:00 – 11-23 00:00", "2 hours ago" => "11-23 10:45 – 11-23 11:15",
    "22 Nov" => "11-22 00:00 – 11-23 00:00",
    # A clock without a day is the latest that was.
    "06:12" => "11-23 05:57 – 11-23 06:27", "at 6:12" => "11-23 05:57 – 11-23 06:27",
    "23:50" => "11-22 23:35 – 11-23 00:05", "6pm" => "11-22 17:45 – 11-22 18:15",
    "12 a.m." => "11-22 23:45 – 11-23 00:15", "6:12:30 pm yesterday" => "11-22 17:57:30 – 11-22 18:27:30",
    "noon on 20 nov" => "11-20 11:45 – 11-20 12:15", "20 nov 24:00" => "11-20 23:45 – 11-21 00:15",
    "22:00 – 02:00" => "11-22 22:00 – 11-23 02:00", "06:00 to 05:00" => "11-22 06:00 – 11-23 05:00",
    "11:00 - 14:00" => "11-23 11:00 – 11-23 14:00", "22 Nov 23:30 – 00:30" => "11-22 23:30 – 11-23 00:30",
    "06:12 ± 5" => "11-23 06:07 – 11-23 06:17", "06:12:08 +- 30 s" => "11-23 06:11:38 – 11-23 06:12:38",
    # Amounts.
    "15m" => "11-23 12:45 – 11-23 13:00", "-15m" => "11-23 12:45 – 11-23 13:00",
    "past hour" => "11-23 12:00 – 11-23 13:00", "last 1.5 h" => "11-23 11:30 – 11-23 13:00",
    "the last half hour" => nil, "half an hour ago" => "11-23 12:15 – 11-23 12:45",
    "an hour ago" => "11-23 11:45 – 11-23 12:15", "3 days ago 06:00" => "11-20 05:45 – 11-20 06:15",
    # Bounds.
    "since yesterday" => "11-22 00:00 – 11-23 13:00", "from 06:00" => "11-23 06:00 – 11-23 13:00",
    "after friday" => "11-21 00:00 – 11-23 13:00", "until 06:00" => " – 11-23 06:00",
    "until friday" => " – 11-21 00:00", "before friday" => " – 11-20 00:00",
    "from 20 nov to 21 nov" => "11-20 00:00 – 11-22 00:00",
    "between 20 nov 06:00 and 21 nov 07:00" => "11-20 06:00 – 11-21 07:00",
    # Parts of the calendar: weeks start on Monday.
    "this week" => "11-23 00:00 – 11-23 13:00", "this month" => "11-01 00:00 – 11-23 13:00",
    "this year" => "01-01 00:00 – 11-23 13:00", "last month" => "10-01 00:00 – 11-01 00:00",
    "october" => "10-01 00:00 – 11-01 00:00", "this morning" => "11-23 06:00 – 11-23 12:00",
    "yesterday evening" => "11-22 17:00 – 11-22 20:00", "last night" => "11-22 20:00 – 11-23 06:00",
    "friday night" => "11-20 20:00 – 11-21 06:00",
    # ISO 8601: week dates, ordinal dates.
    "2026-W47" => "11-16 00:00 – 11-23 00:00", "2026-W47-3" => "11-18 00:00 – 11-19 00:00",
    "week 47" => "11-16 00:00 – 11-23 00:00", "2026-327" => "11-23 00:00 – 11-24 00:00", "week 53" => nil,
    "2026/11/22" => "11-22 00:00 – 11-23 00:00", "22.11.2026 06:12" => "11-22 05:57 – 11-22 06:27",
    "22.11." => "11-22 00:00 – 11-23 00:00", "22/11/2026" => "11-22 00:00 – 11-23 00:00",
    "11/22/2026" => "11-22 00:00 – 11-23 00:00", "2026-11-22 06:12 -0500" => "11-22 11:57 – 11-22 12:27",
    # Stamps as logs have them: RFC 3164, ctime(), RFC 5322, seconds and milliseconds since 1970, ISO 8601's basic form.
    "Nov 22 06:12:08" => "11-22 05:57:08 – 11-22 06:27:08",
    "Sun Nov 22 06:12:08 2026" => "11-22 05:57:08 – 11-22 06:27:08",
    "Sun, 22 Nov 2026 06:12:08 -0500" => "11-22 11:57:08 – 11-22 12:27:08",
    "1795327928" => "11-22 06:57:08 – 11-22 07:27:08", "1795327928417" => "11-22 06:57:08 – 11-22 07:27:08",
    "20261122T061208Z" => "11-22 06:57:08 – 11-22 07:27:08",
    "22/Nov/2026:06:12:08 +0000" => "11-22 06:57:08 – 11-22 07:27:08"
  }.each_with_index do |(text, expected), index|
    define_method("test_#{index}_#{text.gsub(/\W+/, '_')}") do
      expected ? assert_equal(expected, said(text)) : assert_raises(Windows::Words::Unclear) { said(text) }
    end
  end

  # Half past midnight, when the call comes.
  def test_just_after_midnight
    now = Time.utc(2026, 1, 1, 0, 30)
    {
      "23:50" => "12-31 23:35 – 01-01 00:05", "22:00 - 02:00" => "12-31 22:00 – 01-01 02:00",
      "yesterday" => "12-31 00:00 – 01-01 00:00", "tonight" => "12-31 20:00 – 01-01 06:00",
      "last night" => "12-31 20:00 – 01-01 06:00", "this year" => "01-01 00:00 – 01-01 01:30", "week 53" => nil,
      "week 1" => "12-29 00:00 – 01-05 00:00", "31.12." => "12-31 00:00 – 01-01 00:00"
    }.each do |text, expected|
      if expected
        assert_equal(expected, said(text, now), text)
      else
        assert_raises(Windows::Words::Unclear, text) { said(text, now) }
      end
    end
  end

  # What was a minute ago is of today, too.
  def test_today_ends_now
    {
      Time.utc(2026, 11, 23, 13, 58, 59) => "11-23 00:00 – 11-23 14:58:59",
      Time.utc(2026, 11, 22, 23, 0, 1) => "11-23 00:00 – 11-23 00:01",
      Time.utc(2026, 11, 22, 23, 10) => "11-23 00:00 – 11-23 00:10"
    }.each { |now, expected| assert_equal expected, said("today", now), now }
  end

  # The clocks of Oslo go back at 03:00 on 25 October 2026, and forward at 02:00 on 29 March.
  def test_days_when_clocks_are_changed
    back = Time.utc(2026, 10, 25, 11)
    {
      "today" => 13, "yesterday" => 24, "25 oct" => 25, "2026-10-25" => 25, "today 01:00 - 04:00" => 4,
      "yesterday 23:00 to today 03:30" => 5.5, "this morning" => 6, "last 24 hours" => 24, "since yesterday" => 37
    }.each do |text, hours|
      window = words(back).window(text)
      assert_equal hours, (window.to_us - window.from_us) / 3.6e9, text
    end
    forward = Time.utc(2026, 3, 29, 11)
    {
      "today" => 12, "29 mar" => 23, "today 01:30 - 03:30" => 1, "yesterday 23:00 - today 03:00" => 3, "last night" => 9
    }.each do |text, hours|
      window = words(forward).window(text)
      assert_equal hours, (window.to_us - window.from_us) / 3.6e9, text
    end
    assert_equal micros(Time.utc(2026, 10, 24, 10)), words(back).moment("1 day ago"), "a day is one of the calendar"
    assert_equal micros(Time.utc(2026, 10, 24, 11)), words(back).moment("24 hours ago")
  end

  def test_everything_is_open_and_nonsense_is_told
    assert_equal [nil, nil], words.window("everything").to_a
    {
      "the day the cat left" => "not understood", "since boot of nobody" => "nobody",
      "today 05:00 to yesterday 06:00" => "ends before it starts", "last 0 hours" => "ends before it starts",
      "11/12/2026" => "2026-12-11", "last 99999999999 days" => "longer than", "yesterday 25:00" => "not understood",
      "13pm" => "not understood", "31 feb" => "not understood", "2026-02-30" => "no such day",
      "06:70" => "not understood"
    }.each do |text, told|
      assert_includes assert_raises(Windows::Words::Unclear, text) { words.window(text) }.message, told
    end
    assert_includes assert_raises(Windows::Words::Unclear) { words(NOW, "Mars/One") }.message, "Mars/One"
  end

  # Whatever is said is understood or told; nothing else may come of it.
  def test_whatever_is_said_is_understood_or_told
    random = seeded(1)
    pieces = [
      "yesterday", "today", "last", "night", "06:12", "24:00", "25:61", "6pm", "13 pm", "noon", "midnight", "-", "–",
      "to", "until", "since", "boot of", "x", "±", "5", "min", "hour", "ago", "half an", "a", "22 Nov", "31.12.",
      "29 feb", "2026-02-29", "2026-W53", "2026-366", "week 60", "1795327928", "99999999999", "11/12/2026",
      "2026-11-22T06:12", "Z", "+25:99", "tuesday", "next", "this", "month", "year", "-15m", "1e9", "é", "\u0000", "\n",
      "%", "(", "Nov 22 06:12:08", "Sun, 22 Nov 2026 06:12:08 -0500", "22-Nov-2026 06:12:08 Mars/One", "\xFF"
    ]
    %w[UTC Europe/Oslo Pacific/Apia].each do |zone|
      500.times do
        said = words(Time.at(random.rand(0..4_000_000_000)), zone)
        text = Array.new(random.rand(1..5)) { pieces.sample(random: random) }.join(" ")
        window = said.window(text)
        assert(window.from_us.nil? || window.to_us.nil? || window.from_us < window.to_us, text)
      rescue Windows::Words::Unclear => error
        refute_empty error.message
      end
    end
  end
end
