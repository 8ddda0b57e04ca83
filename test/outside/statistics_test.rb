# frozen_string_literal: true

require_relative "../test_helper"

# Statistics against R 4.2.2 (R Core Team). The command of each value stands beside it; the values were written down
# from its output with options(digits = 17).
class StatisticsTest < Minitest::Test
  include Northdrift
  include Northdrift::Measure

  # quantile(x, shares, type = 7)
  QUANTILES = {
    [3.2, 1, 4, 1, 5, 9, 2.5, 6, 5, 3] => {
      0.0 => 1, 0.05 => 1, 0.25 => 2.625, 0.5 => 3.6, 0.9 => 6.3, 0.95 => 7.65, 0.99 => 8.73, 1.0 => 9
    }, [10, 20] => { 0.5 => 15, 0.95 => 19.5, 0.99 => 19.9 }, [7] => { 0.5 => 7, 0.95 => 7 },
    [*[0.5] * 90, *[30] * 9, 120] => { 0.5 => 0.5, 0.9 => 3.45, 0.95 => 30, 0.99 => 30.9 },
    [-5, -1.5, 0, 2, 2, 2, 100] => { 0.01 => -4.79, 0.33 => -0.03, 0.95 => 70.6 }
  }.freeze

  def test_quantiles
    QUANTILES.each do |values, expected|
      Quantiles
        .of(values.tally.sort, expected.keys)
        .zip(expected) { |found, (share, value)| assert_in_delta value, found, 1e-9, "#{share} of #{values.first(5)}" }
    end
    assert_equal [nil], Quantiles.of([], [0.5])
  end

  def test_measured_quantiles_are_the_same
    values = [3.2, 1, 4, 1, 5, 9, 2.5, 6, 5, 3]
    { "p50" => 3.6, "p95" => 7.65, "p99" => 8.73 }.each do |name, expected|
      way = Aggregate::ALL.fetch(name)
      halves =
        values.each_slice(5).map { |half| half.reduce(way.start.call) { |state, value| way.add.call(state, value) } }
      assert_in_delta expected, way.result.call(way.join.call(*halves)), 1e-9, name
    end
  end

  # p <- c(.5, .3, .2); q <- c(.1, .1, .8); m <- (p + q) / 2; sum(p * log2(p / m)) / 2 + sum(q * log2(q / m)) / 2. The
  # sizes are so great that nothing is left to chance.
  def test_divergence
    assert_in_delta 0.28177360116998601,
                    Divergence.between(
                      { a: 500_000_000, b: 300_000_000, c: 200_000_000 },
                      { a: 100_000_000, b: 100_000_000, c: 800_000_000 }
                    ), 1e-8
    assert_in_delta 1.0, Divergence.between({ a: 10**9 }, { b: 10**9 }), 1e-8
  end

  # Flow of the Nile at Aswan 1871 to 1970, datasets::Nile of R; its level fell after 1898 (G. W. Cobb, The Problem of
  # the Nile, Biometrika 65 (1978), 243-251).
  NILE = %w[
    1120 1160 963 1210 1160 1160 813 1230 1370 1140 995 935 1110 994 1020 960 1180 799 958 1140 1100 1210 1150
    1250 1260 1220 1030 1100 774 840 874 694 940 833 701 916 692 1020 1050 969 831 726 456 824 702 1120 1100
    832 764 821 768 845 864 862 698 845 744 796 1040 759 781 865 845 944 984 897 822 1010 771 676 649 846 812
    742 801 1040 860 874 848 890 744 749 838 1050 918 986 797 923 975 815 1020 906 901 1170 912 746 919 718 714
    740
  ].map(&:to_i).freeze

  # n <- length(Nile); r <- rank(as.numeric(Nile)); U <- 2 * cumsum(r) - seq_len(n) * (n + 1); K <- max(abs(U));
  # k <- which.max(abs(U)); 2 * exp(-6 * K^2 / (n^3 + n^2)); mean(Nile[1:k]); mean(Nile[(k + 1):n])
  def test_since_when_a_level_is_another
    change = ChangePoint.of(NILE)
    assert_equal 1899, 1871 + change.at
    assert_in_delta 3.5910221769362927e-07, change.p, 1e-18
    assert_in_delta 1097.75, change.before, 1e-9
    assert_in_delta 849.97222222222217, change.after, 1e-9
  end

  # Two samples of one distribution: what is measured must mostly be taken for chance.
  def test_chance_is_no_divergence
    random = Random.new(3)
    sample = -> { Array.new(400) { random.rand(8) }.tally }
    found = Array.new(200) { Divergence.between(sample.call, sample.call) }
    assert_operator found.sum / found.size, :<, 0.003
    assert_operator Divergence.between(
      Array.new(400) { random.rand(8) }.tally, Array.new(400) { random.rand(4) }.tally
    ), :>, 0.1
  end

  # fisher.test(matrix(c(both, first, second, neither), 2), alternative = "greater")$p.value
  def test_coincidence
    bits = ->(*ranges) { ranges.sum { |range| range.sum { |step| 1 << step } } }
    both, chance, p = Compare::Coincidence.of(bits.call(0..13), bits.call(0..9), 48)
    assert_equal 10, both
    assert_in_delta 14 * 10 / 48.0, chance, 1e-12
    assert_in_delta 1.530413514233463e-07, p, 1e-15
    assert_in_delta 0.15885131788638068, Compare::Coincidence.of(bits.call(0..8), bits.call(0..2, 20..24), 48).last,
                    1e-12
  end
end
