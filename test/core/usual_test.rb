# frozen_string_literal: true

require_relative "../test_helper"

# What a source usually sends, and when that is told.
class UsualTest < Minitest::Test
  include Northdrift

  def departure(counts, count) = Measure::Usual.new(counts).departure(count)&.to_a

  # R: quantile(1:100, c(0.05, 0.95), type = 3) is 5 and 95; ours are the order statistics next to it.
  def test_bounds
    assert_in_delta 5, Measure::Usual.new([*1..100].shuffle(random: Random.new(1))).low, 1
    assert_in_delta 95, Measure::Usual.new([*1..100]).high, 1
  end

  def test_levels
    day = Array.new(288) { |index| 100 + (40 * Math.sin(index / 46.0)).round }
    assert_nil departure(day, 62)
    assert_nil departure(day, 200)
    assert_equal %w[warning more], departure(day, 300)
    assert_equal %w[alarm more], departure(day, 900)
    assert_equal %w[warning less], departure(day, 20)
    assert_equal %w[alarm less], departure(day, 0)
  end

  def test_few_lines_vary_by_chance_and_little_is_known_at_first
    assert_nil departure([0, 1, 2, 3] * 10, 9)
    assert_nil departure([3] * 40, 0)
    assert_nil departure([100] * 11, 0)
  end

  def test_one_burst_does_not_make_bursts_usual
    assert_equal %w[alarm more], departure(([100] * 100) + [5000], 5000)
  end
end
