# frozen_string_literal: true

require_relative "../test_helper"
require "time"

# Random moments, written by Ruby's own strftime and Time#httpdate, Time#rfc2822 and Time#iso8601, and read back. Ruby's
# Time library is the reference; GNU date(1) is asked for some of them too.
class StampsTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  ZONES = ["+00:00", "+05:30", "-08:00", "+12:45"].freeze

  def read_us(text, year: 2026)
    Reading::Stamp.read(text.b, Reading::Clock.new(reference_us: micros(Time.utc(year, 12, 31, 23))))&.us
  end

  def moments(count, year: nil)
    random = Random.new(12)
    Array.new(count) do
      seconds =
        if year
          Time.utc(year).to_i + random.rand((2 * 86_400)..(363 * 86_400))
        else
          random.rand(1_000_000_000..4_000_000_000)
        end
      Time.at(seconds, random.rand(1_000_000), :microsecond, in: ZONES[random.rand(4)])
    end
  end

  def cut(time, digits) = micros(time) / (10**(6 - digits)) * (10**(6 - digits))

  def test_iso8601_of_every_precision
    moments(300).each do |time|
      (0..6).each { |digits| assert_equal cut(time, digits), read_us(time.iso8601(digits)), time.iso8601(digits) }
    end
  end

  def test_dates_of_mail_and_http
    moments(300).each do |time|
      assert_equal cut(time, 0), read_us(time.rfc2822), time.rfc2822
      assert_equal cut(time, 0), read_us(time.httpdate), time.httpdate
    end
  end

  def test_forms_of_strftime
    ["%Y-%m-%d %H:%M:%S.%6N %z", "%d/%b/%Y:%H:%M:%S %z", "%Y%m%dT%H%M%S%z", "%s.%6N"].each do |form|
      moments(100).each do |time|
        text = time.strftime(form)
        assert_equal (form.include?("%6N") ? micros(time) : cut(time, 0)), read_us(text), text
      end
    end
  end

  def test_forms_without_a_zone_are_utc_when_nothing_else_is_said
    ["%Y/%m/%d %H:%M:%S", "%d.%m.%Y %H:%M:%S", "%a %b %e %H:%M:%S %Y", "%b %e %Y %H:%M:%S"].each do |form|
      moments(100).each do |time|
        assert_equal cut(time, 0), read_us(time.getutc.strftime(form)), time.getutc.strftime(form)
      end
    end
  end

  def test_a_year_that_is_left_out
    moments(200, year: 2026).each do |time|
      assert_equal cut(time, 0), read_us(time.getutc.strftime("%b %e %H:%M:%S")), time.to_s
    end
  end

  def test_what_date_writes
    [
      "+%FT%T%:z", "+%FT%T.%6N%:z", "--rfc-email", "--rfc-3339=seconds", "--iso-8601=ns", "+%a %b %e %T %Z %Y"
    ].each do |form|
      moments(5).each do |time|
        text = IO.popen({ "TZ" => "UTC", "LC_ALL" => "C" }, ["date", "-u", "--date=@#{time.to_i}", form], &:read).chomp
        assert_equal cut(time, 0), read_us(text), text
      end
    end
  end
end
