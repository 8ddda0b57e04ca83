# frozen_string_literal: true

require_relative "../test_helper"

class MeasureTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  SECOND = 1_000_000

  # A Poisson process, whose gaps are exponentially distributed.
  def poisson(random, mean_s, count, start = 0)
    Array.new(count) { start += (-Math.log(1 - random.rand) * mean_s * SECOND).round }
  end

  def test_a_gap_in_a_steady_stream_is_a_silence
    times = poisson(Random.new(3), 4, 300)
    times += poisson(Random.new(4), 4, 300, times.last + (90 * SECOND))
    silences = Measure::Silence.in_times("tix-db-1", times, times.last)
    assert_equal([[times[299], times[300]]], silences.map { |silence| [silence.from_us, silence.to_us] })
  end

  def test_chance_and_a_quieter_night_are_no_silences
    false_alarms = (1..50).sum do |seed|
      random = Random.new(seed)
      day = poisson(random, 30, 400)
      Measure::Silence.in_times("m", day + poisson(random, 300, 60, day.last), day.last).size
    end
    assert_operator false_alarms, :<=, 10
  end

  def test_silence_up_to_the_end_is_open
    times = poisson(Random.new(5), 2, 200)
    silence = Measure::Silence.in_times("m", times, times.last + (600 * SECOND)).last
    assert silence.open
    assert_equal times.last, silence.from_us
  end

  def test_who_turned_bad_first_is_not_who_always_complains
    always = (0...50).to_h { |step| [step, [0, 0, 0, 2, 0, 0, 5, 0, 0]] }
    worse = always.merge(30 => [0, 0, 0, 40, 0, 0, 5, 0, 0])
    quiet = { 20 => [0, 0, 0, 3, 0, 0, 0, 0, 0] }
    assert_equal 30, Measure::Onset.step(worse, 50)
    assert_equal 20, Measure::Onset.step(quiet, 50)
    assert_nil Measure::Onset.step({ 4 => [0, 0, 0, 0, 0, 0, 9, 0, 0] }, 50)
  end

  def test_steps_are_round_and_cover_the_window
    day = 86_400 * SECOND
    assert_equal 1200 * SECOND, Measure::Steps.size(0, day, 97)
    start = Measure::Steps.start(micros(Time.utc(2026, 11, 22, 5)), day, utc_offset: 3600)
    assert_equal Time.utc(2026, 11, 21, 23), Time.at(0, start, :microsecond).utc
    [1, 2, 4, 13, 52].product([0, 3600, -18_000, 20_700]) do |weeks, offset|
      start =
        Time.at(
          0, Measure::Steps.start(micros(Time.utc(2026, 11, 22, 5)), weeks * 7 * day, utc_offset: offset), :microsecond,
          in: "UTC"
        ) + offset
      assert_equal [1, 0], [start.wday, start.hour + start.min], "weeks of #{weeks * 7} days start on Monday"
    end
  end
end
