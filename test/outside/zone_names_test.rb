# frozen_string_literal: true

require_relative "../test_helper"
require "tzinfo"

# Abbreviations of zones against the tz database (the gem tzinfo-data) and RFC 5322.
class ZoneNamesTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  # RFC 5322, section 4.3: "EDT" is -0400, and so on (from memory of the table).
  RFC5322 = {
    "UT" => 0, "GMT" => 0, "EDT" => -4, "EST" => -5, "CDT" => -5, "CST" => -6, "MDT" => -6, "MST" => -7, "PDT" => -7,
    "PST" => -8
  }.freeze
  # Unambiguous today, but words that a message could start with, or hardly ever written.
  LEFT_OUT = %w[CAT EAT WAT WIT WITA SST HDT ChST IDT].freeze

  # @return [Hash{String=>Array<Integer>}] minutes east of UTC that an abbreviation stands for in some zone this year
  def database
    TZInfo::Timezone.all.each_with_object(Hash.new { |all, name| all[name] = [] }) do |zone, all|
      [1, 7].each do |month|
        period = zone.period_for(Time.utc(2026, month, 15))
        all[period.abbreviation.to_s] |= [period.observed_utc_offset / 60] if period.abbreviation.to_s.match?(
          /\A[A-Za-z]{2,5}\z/
        )
      end
    end
  end

  def test_names_mean_what_the_tz_database_says
    RFC5322.each { |name, hours| assert_equal hours * 60, Reading::ZoneNames::MINUTES[name], name unless name == "UT" }
    told = database
    Reading::ZoneNames::MINUTES.each do |name, minutes|
      assert_equal [minutes], told.fetch(name), name unless RFC5322.key?(name)
    end
    assert_equal LEFT_OUT.sort, (told.select { |_, minutes| minutes.one? }.keys - Reading::ZoneNames::MINUTES.keys).sort
  end

  # date(1) of GNU coreutils writes the same moment in the words of many places.
  def test_what_date_writes_is_the_moment_that_it_was_told
    moments = [1_795_647_577, 1_782_000_000]
    zones = %w[
      Europe/Oslo Europe/London Europe/Helsinki Europe/Moscow America/New_York America/Chicago America/Denver
      America/Los_Angeles America/Halifax America/St_Johns America/Anchorage Pacific/Honolulu Asia/Tokyo Asia/Seoul
      Asia/Hong_Kong Asia/Karachi Australia/Adelaide Australia/Perth Australia/Sydney Pacific/Auckland
      Africa/Johannesburg UTC
    ]
    zones
      .product(
        moments,
        [
          "+%Y-%m-%d %H:%M:%S %Z", "+%a %Y-%m-%d %H:%M:%S %Z", "+%a %b %e %H:%M:%S %Z %Y", "+%d %b %Y %H:%M:%S %Z",
          "+%a, %d %b %Y %H:%M:%S %Z"
        ]
      )
      .each do |zone, moment, form|
        text = IO.popen([{ "TZ" => zone, "LC_ALL" => "C" }, "date", "-d", "@#{moment}", form], &:read).chomp
        event = read("#{text} held closed")
        assert_equal [moment, [], "held closed"], [event.time.to_i, event.inferred, event.message], text
      end
  end

  # "CST" is six hours behind Greenwich in Chicago, eight before it in Shanghai, five behind in Havana.
  def test_the_zone_of_the_source_knows_its_own_names_best
    {
      "America/Chicago" => -6, "Asia/Shanghai" => 8, "America/Havana" => -5, "Europe/Oslo" => -6, "UTC" => -6
    }.each do |zone, hours|
      assert_equal Time.utc(2026, 1, 15, 12) - (hours * 3600), read("2026-01-15 12:00:00 CST x", zone: zone).time, zone
    end
    assert_equal Time.utc(2026, 1, 15, 10), read("2026-01-15 12:00:00 IST x", zone: "Asia/Jerusalem").time
    assert_equal Time.utc(2026, 1, 15, 6, 30), read("2026-01-15 12:00:00 IST x", zone: "Asia/Kolkata").time
  end

  # A word is no zone because it looks like one.
  def test_words_behind_a_time_are_not_taken_for_zones
    ["CATS in the hall", "ESTIMATE 3", "CET1 failed", "PST: gone", "MSKED out"].each do |message|
      event = read("2026-11-25 23:42:50 #{message}")
      assert_equal [message, Time.utc(2026, 11, 25, 23, 42, 50)], [event.message, event.time], message
    end
  end
end
