# frozen_string_literal: true

require_relative "../test_helper"
require "tzinfo"

# How pages show and read times, against the tz database as Ruby has it.
class TimesTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  ZONES = %w[
    UTC Europe/Oslo America/New_York America/St_Johns Australia/Lord_Howe Asia/Kathmandu Pacific/Chatham
    America/Sao_Paulo
  ].freeze

  def moments(count, seed: 3)
    random = Random.new(seed)
    changes =
      [
        [2026, 3, 29, 1], [2026, 10, 25, 1], [2026, 3, 8, 7], [2026, 11, 1, 6], [2026, 4, 4, 15], [2026, 10, 3, 15]
      ].map { |year, month, day, hour| micros(Time.utc(year, month, day, hour)) }
    Array.new(count) { random.rand(micros(Time.utc(1971))..micros(Time.utc(2037))) } +
      changes.flat_map { |us| [us - 1, us, us + 3_599_999_999] }
  end

  def local(us, zone) = TZInfo::Timezone.get(zone).to_local(Time.at(0, us, :microsecond, in: "UTC"))

  def test_clocks_of_all_zones
    asked = ZONES.product(moments(40))
    told =
      FrontEnd.call(
        asked.flat_map do |zone, us|
          [
            ["time", "wall", us, zone], ["time", "utcOffset", us, zone], ["time", "clockExact", us, zone],
            ["time", "dayAndYear", us, zone]
          ]
        end
      )
    asked.zip(told.each_slice(4)) do |(zone, us), found|
      time = local(us, zone)
      exact = time.usec % 1000 == 0 ? time.strftime("%H:%M:%S.%L") : time.strftime("%H:%M:%S.%6N")
      assert_equal [time.strftime("%Y-%m-%d %H:%M:%S"), time.utc_offset, exact, time.strftime("%-d %b %Y")], found,
                   "#{zone} #{us}"
    end
  end

  # What a person chooses in the date field is the moment of that wall clock; of an hour that comes twice, either.
  def test_what_is_chosen_in_a_date_field
    asked = ZONES.product(moments(40).map { |us| us / 1_000_000 * 1_000_000 })
    walls = asked.map { |zone, us| local(us, zone).strftime("%Y-%m-%d %H:%M:%S") }
    FrontEnd
      .call(asked.zip(walls).map { |(zone, _), wall| ["time", "fromWall", wall, zone] })
      .zip(asked, walls) do |us, (zone, _), wall|
        assert_equal wall, local(us, zone).strftime("%Y-%m-%d %H:%M:%S"), zone
      end
  end

  # Links carry times as ISO 8601; Ruby's library time reads and writes the same.
  def test_times_in_links
    asked =
      moments(60).map { |us| us - (us % [1, 1000, 1_000_000].sample(random: Random.new(us))) } +
      [micros(Time.utc(1969, 12, 31, 23, 59, 59)), 0, 1]
    isos = FrontEnd.call(asked.map { |us| ["time", "toIso", us] })
    asked.zip(isos) { |us, iso| assert_equal us, micros(Time.iso8601(iso)), iso }
    assert_equal asked, FrontEnd.call(isos.map { |iso| ["time", "fromIso", iso] })
    assert_equal [nil] * 5,
                 FrontEnd.call(
                   ["", "yesterday", "2026-13-01T00:00:00Z", "2026-11-22T06:12:08+01:00", "2026-11-22"].map do |text|
                     ["time", "fromIso", text]
                   end
                 )
  end

  def test_names_of_windows
    now = Store::Clock.now
    at = ->(day, clock, year = now.year) { micros(Time.utc(year, 11, day, *clock.split(":").map(&:to_i))) }
    year = now.year - 2
    {
      [at.call(22, "06:02"), at.call(22, "06:26")] => "22 Nov 06:02 – 06:26",
      [at.call(22, "06:02:07"), at.call(22, "06:26")] => "22 Nov 06:02:07 – 06:26",
      [at.call(22, "00:00"), at.call(23, "00:00")] => "22 Nov",
      [at.call(21, "00:00"), at.call(23, "00:00")] => "21 Nov – 22 Nov",
      [at.call(22, "23:30"), at.call(23, "00:30")] => "22 Nov 23:30 – 23 Nov 00:30", [nil, nil] => "everything",
      [at.call(22, "06:02"), nil] => "since 22 Nov 06:02", [nil, at.call(22, "06:02")] => "until 22 Nov 06:02",
      # Another year is said: the same day comes every year.
      [at.call(22, "06:02", year), at.call(22, "06:26", year)] => "22 Nov #{year} 06:02 – 06:26",
      [at.call(22, "00:00", year), at.call(23, "00:00", year)] => "22 Nov #{year}",
      [at.call(22, "06:02", year), nil] => "since 22 Nov #{year} 06:02",
      [at.call(22, "06:02", year), at.call(22, "06:02")] => "22 Nov #{year} 06:02 – 22 Nov #{now.year} 06:02"
    }.each_slice(20) do |some|
      assert_equal some.map(&:last), FrontEnd.call(some.map { |(from, to), _| ["time", "windowName", from, to, "UTC"] })
    end
  end

  def test_durations_sizes_and_quantities
    {
      ["time", "duration", 400] => "400 µs", ["time", "duration", 0] => "0 ms",
      ["time", "duration", 999_499] => "999 ms", ["time", "duration", 999_600] => "1 s",
      ["time", "duration", 59_700_000] => "1 min", ["time", "duration", 104_000_000] => "1 min 44 s",
      ["time", "duration", 7_500_000_000] => "2 h 5 min", ["time", "duration", 273_600_000_000] => "3 d 4 h",
      ["time", "bytes", 999] => "999 B", ["time", "bytes", 1000] => "1.0 kB", ["time", "bytes", 999_949] => "999.9 kB",
      ["time", "bytes", 999_951] => "1.0 MB", ["time", "bytes", 2_500_000_000_000] => "2.5 TB",
      ["quantity", "quantity", nil, "s"] => "–", ["quantity", "quantity", 0, "s"] => "0 s",
      ["quantity", "quantity", 0.0123, "s"] => "12.3 ms", ["quantity", "quantity", 90, "s"] => "1.5 min",
      ["quantity", "quantity", 0.0004, "%"] => "0.0004 %", ["quantity", "quantity", 1234.5, nil] => "1,235",
      ["quantity", "quantity", 12.34, nil] => "12.3", ["quantity", "quantity", -2048, "B"] => "−2.0 kB"
    }.each_slice(50) { |some| assert_equal some.map(&:last), FrontEnd.call(some.map(&:first)) }
  end

  # Labels beside the rail: neighbours must not be called the same.
  def test_labels_of_steps
    {
      10_000 => "UTC", 1_000_000 => "Europe/Oslo", 60_000_000 => "Asia/Kathmandu", 3_600_000_000 => "UTC",
      86_400_000_000 => "UTC", 604_800_000_000 => "UTC", 31_449_600_000_000 => "UTC"
    }.each do |step, zone|
      labels =
        FrontEnd.call(
          (0...20).map do |index|
            ["time", "stepName", (1_795_305_600_000_000 / step * step) + (index * step), step, zone]
          end
        )
      assert_equal labels.uniq, labels, "steps of #{step} µs"
      assert(labels.all? { |label| label.size <= 7 }, labels.inspect) if step >= 60_000_000
    end
  end
end
