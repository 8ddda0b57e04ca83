# frozen_string_literal: true

require_relative "../test_helper"

# Since when a level is another.
class ChangePointTest < Minitest::Test
  include Northdrift

  def of(values) = Measure::ChangePoint.of(values)

  def test_a_level_that_rises
    change = of(([3] * 20) + ([9] * 12))
    assert_equal [20, 3.0, 9.0], change.to_a.first(3)
    assert_operator change.p, :<, 0.001
  end

  def test_a_peak_is_no_level
    assert_operator of([*([3] * 20), 900, *([3] * 20)]).p, :>, 0.5
  end

  def test_nothing_is_told_of_few_or_of_the_same
    assert_nil of([1, 9] * 3)
    assert_nil of([4] * 50)
  end

  # Of noise no more is told than chance lets be told.
  def test_noise_is_rarely_a_change
    random = Random.new(7)
    sure = Array.new(400) { of(Array.new(40) { random.rand(20) }).p }.count { |p| p < 0.05 }
    assert_operator sure, :<=, 30, "5 % of 400 are 20; two standard deviations more are 29"
  end
end
