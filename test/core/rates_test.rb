# frozen_string_literal: true

require_relative "../test_helper"
require "open3"

class RatesTest < Minitest::Test
  include Northdrift

  # Counts and lengths of two windows, and the p-value. Computed by R 4.2.2:
  # poisson.test(c(first, second), c(first_time, second_time))$p.value
  R = [
    [0, 1, 5, 1, 0.0625], [5, 1, 0, 1, 0.0625], [10, 1, 10, 1, 1], [12, 1, 30, 1, 0.0079158973349],
    [3, 2, 40, 10, 0.101407091349], [100, 1, 150, 1, 0.00188330093508], [1000, 24, 900, 24, 0.0231088451089],
    [1, 1, 0, 7, 0.125], [7, 1, 20, 3, 1], [200, 0.5, 90, 1, 4.6833829387e-35], [5000, 1, 5200, 1, 0.0487879631268],
    [0, 1, 1, 1, 1], [2, 1, 9, 0.25, 1.8944e-05], [30, 1, 0, 30, 1.81613941967e-45]
  ].freeze

  R.each_with_index do |(first, first_time, second, second_time, p), index|
    define_method("test_against_r_#{index}") do
      assert_in_epsilon p, Math.exp(Compare::Rates.log_p(first, first_time, second, second_time)), 1e-9
    end
  end

  def test_changes_beyond_the_smallest_number_are_still_told_apart
    logs = [[2000, 1], [20_000, 1], [200_000, 1]].map { |first, second| Compare::Rates.log_p(first, 1, second, 1) }
    assert_equal logs.sort.reverse, logs
    assert(logs.all? { |log| log < -1000 && log.finite? })
  end

  def test_nothing_on_both_sides_is_no_change = assert_in_delta(0.0, Compare::Rates.log_p(0, 1, 0, 1))

  def test_windows_of_unequal_length_at_one_rate_are_no_change
    assert_operator Compare::Rates.log_p(10, 1, 70, 7), :>, Math.log(0.9)
  end

  # R 4.2.2: p.adjust(c(0.001, 0.04, 0.03, 0.2, 0.5, 0.0005), "BH")
  def test_adjusted_against_r
    adjusted =
      Compare::Rates.adjusted([0.001, 0.04, 0.03, 0.2, 0.5, 0.0005].map { |p| Math.log(p) }).map { |log| Math.exp(log) }
    [0.003, 0.06, 0.06, 0.24, 0.5, 0.003].zip(adjusted) { |expected, value| assert_in_epsilon expected, value, 1e-9 }
  end

  # When R is on the machine it is asked itself, for cases that are not written down here.
  def test_random_cases_against_r_itself
    skip "R is not installed" unless system("command -v Rscript >/dev/null 2>&1")
    random = Random.new(6)
    cases =
      Array
        .new(200) { [random.rand(200), random.rand(1..50), random.rand(200), random.rand(1..50)] }
        .reject { |one| one[0] + one[2] == 0 }
    script =
      cases
        .map do |first, time, second, other|
          "cat(format(poisson.test(c(#{first},#{second}), c(#{time},#{other}))$p.value, digits = 15), '\\n')"
        end
        .join("\n")
    output, = Open3.capture2("Rscript", "-", stdin_data: script)
    cases.zip(output.lines) do |one, line|
      p = line.to_f
      assert_in_delta Math.log(p), Compare::Rates.log_p(one[0], one[1], one[2], one[3]), 1e-6, one.inspect if p > 1e-290
    end
  end
end
