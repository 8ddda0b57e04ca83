# frozen_string_literal: true

require_relative "../test_helper"
require "open3"

# How likely a count is, and what is usual in an hour.
class UnusualTest < Minitest::Test
  include Northdrift
  include Northdrift::Unusual

  # Count and mean; P(X >= count) and P(X <= count). Computed by R 4.2.2:
  # ppois(count - 1, mean, lower = FALSE), ppois(count, mean)
  POISSON = [
    [10, 2, 4.64980750173e-05, 0.999991691776], [3, 3, 0.576809918873, 0.647231888782], [0, 4.5, 1, 0.0111089965382],
    [50, 20, 1.24589260797e-08, 0.999999995171], [200, 250, 0.99951778724, 0.000613279536147],
    [1000, 900, 0.000549902265712, 0.999509367267], [5, 0.1, 7.66780168619e-08, 0.999999998725]
  ].freeze
  # Count, mean and dispersion. Computed by R 4.2.2: pnbinom(count - 1, size = mean / (dispersion - 1), mu = mean,
  # lower = FALSE), and pnbinom(count, size = …, mu = mean)
  NEGATIVE_BINOMIAL = [
    [10, 2, 1.5, 0.00164772132121, 0.999309006602], [30, 10, 4, 0.0100712182622, 0.991935251182],
    [0, 20, 3, 1, 1.69350878084e-05], [500, 100, 20, 2.23198473868e-07, 0.999999786232],
    [90, 100, 1.01, 0.852419642146, 0.172631128275], [12, 12, 8, 0.41796374376, 0.620807215174]
  ].freeze

  def test_tails_against_r
    (POISSON.map { |k, mean, *rest| [k, mean, 1.0, *rest] } + NEGATIVE_BINOMIAL)
      .each do |k, mean, dispersion, above, below|
        assert_in_epsilon above, Math.exp(Tail.log_at_least(k, mean, dispersion)), 1e-9, [k, mean, dispersion].inspect
        assert_in_epsilon below, Math.exp(Tail.log_at_most(k, mean, dispersion)), 1e-9, [k, mean, dispersion].inspect
      end
  end

  # When R is on the machine it is asked itself, for cases that are not written down here.
  def test_random_tails_against_r_itself
    skip "R is not installed" unless system("command -v Rscript >/dev/null 2>&1")
    random = Random.new(3)
    cases = Array.new(300) { [random.rand(0..400), random.rand * (10**random.rand(-1..2.5)), 1 + (random.rand * 30)] }
    script = cases.map { |k, mean, dispersion| asked(k, mean, dispersion) }.join("\n")
    output, = Open3.capture2("Rscript", "-", stdin_data: script)
    cases.zip(output.lines) do |one, line|
      above, below = line.split.map(&:to_f)
      assert_in_delta above, Tail.log_at_least(*one), 1e-8 * [1, above.abs].max, one.inspect
      assert_in_delta below, Tail.log_at_most(*one), 1e-8 * [1, below.abs].max, one.inspect
    end
  end

  def asked(k, mean, dispersion)
    size = mean / (dispersion - 1)
    above, below = [[k - 1, "lower = FALSE, "], [k, ""]]
      .map { |at, tail| "format(pnbinom(#{at}, size = #{size}, mu = #{mean}, #{tail}log = TRUE), digits = 15)" }
    "cat(#{above}, #{below}, '\\n')"
  end

  HOURS = 30 * 24

  # A day's course: many by day, few by night.
  def daily(hour) = (hour % 24).between?(8, 17) ? 60 : 4

  def test_a_days_course_is_usual_and_a_burst_by_night_is_not
    counts = (0...HOURS).to_h { |hour| [hour, daily(hour)] }
    assert_empty Runs.of(counts, 72...HOURS, 0)
    night = (20 * 24) + 2
    counts[night] = counts[night + 1] = 60
    run = Runs.of(counts, 72...HOURS, 0).first
    assert_equal ["more", night, night + 1, 120], run.to_a.first(4)
    assert_in_delta 8, run.expected, 1
  end

  def test_hours_without_lines_where_there_are_always_some
    counts = (0...HOURS).to_h { |hour| [hour, daily(hour)] }
    day = (20 * 24) + 10
    3.times { |step| counts.delete(day + step) }
    assert_equal([["less", day, day + 2, 0]], Runs.of(counts, 72...HOURS, 0).map { |run| run.to_a.first(4) })
  end

  # Each Monday at four there is a backup: the week knows it, the days do not.
  def test_what_comes_each_week_is_usual_once_three_are_known
    counts = (0...(6 * 168)).to_h { |hour| [hour, hour % 168 == 4 ? 500 : 10] }
    assert_equal "more", Baseline.new(counts, 168 + 4, 0).departure(500).direction
    fifth = Baseline.new(counts, (4 * 168) + 4, 0)
    assert_nil fifth.departure(500)
    assert_equal "less", fifth.departure(10).direction
  end

  # Twelve where four are usual would be too many for Poisson's (R: ppois(39, 10, lower = FALSE) is 1e-12); where counts
  # scatter from nought to forty it is nothing.
  def test_what_scatters_is_judged_by_how_it_scatters
    steady = (0...HOURS).to_h { |hour| [hour, 10] }
    random = Random.new(5)
    bursts = (0...HOURS).to_h { |hour| [hour, random.rand < 0.2 ? 40 : 2] }
    assert_equal "more", Baseline.new(steady, HOURS, 0).departure(40).direction
    assert_operator Baseline.new(bursts, HOURS, 0).dispersion, :>, 10
    assert_nil Baseline.new(bursts, HOURS, 0).departure(40)
  end

  # A burst is no part of what is usual: the day after nothing is missed.
  def test_what_a_burst_raised_is_not_missed
    counts = (0...HOURS).to_h { |hour| [hour, 30] }
    counts[HOURS - 24] = 5000
    assert_nil Baseline.new(counts, HOURS, 0).departure(30)
  end

  def test_before_three_days_are_known_nothing_is_unusual
    counts = (0...80).to_h { |hour| [hour, 10] }
    refute_predicate Baseline.new(counts, 71, 0), :known?
    assert_nil Baseline.new(counts, 71, 0).departure(5000)
    assert_equal "more", Baseline.new(counts, 72, 0).departure(5000).direction
  end

  # Counts of a Poisson process are nothing unusual; so many hours are judged that a chance of one in a thousand would
  # be met some twenty times.
  def test_chance_is_nothing_unusual
    random = Random.new(11)
    counts = (0...20_000).to_h { |hour| [hour, poisson(random, 15)] }
    assert_empty Runs.of(counts, 72...20_000, 0)
  end

  # D. Knuth: The Art of Computer Programming, volume 2, 3.4.1.
  def poisson(random, mean)
    limit = Math.exp(-mean)
    product = random.rand
    count = 0
    (count += 1) && product *= random.rand while product > limit
    count
  end

  def test_the_worse_and_the_more_surprising_comes_first
    assert_equal 100, Priority.of("pattern", 9.0, 0)
    error, warning, info = [3, 4, 6].map { |severity| Priority.of("pattern", 2.2, severity) }
    assert_operator error, :>, warning
    assert_operator warning, :>, info
    assert_operator Priority.of("more", 15, 5), :>, Priority.of("more", 6, 5)
    # Where each hour has something new, one more is none: the chance is 1 - 1/e.
    assert_in_delta(-Math.log10(1 - Math.exp(-1)), Priority.surprise_of_new(99.5, 100), 1e-9)
    assert_operator Priority.surprise_of_new(0, 168), :>, 2
  end
end
