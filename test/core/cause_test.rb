# frozen_string_literal: true

require_relative "../test_helper"

# When something began, and what before that is likely to be its cause.
class CauseTest < Minitest::Test
  include Northdrift

  def rise(counts) = Cause::ChangePoint.rise(counts)

  def test_a_rise_is_found_where_it_is
    found = rise(Array.new(50) { |step| step % 5 == 0 ? 1 : 0 } + [6, 5, 7, 6, 5])
    assert_equal [50, true], [found.step, found.clear]
    assert_in_delta 0.2, found.before, 1e-9
    assert_in_delta 5.8, found.after, 1e-9
  end

  # The gain of the logarithm of the likelihood, by hand: k1 ln(k1/t1) + k2 ln(k2/t2) - n ln(n/t).
  def test_the_gain_is_that_of_two_poisson_rates
    found = rise([1, 0, 0, 1, 0, 4, 3, 5])
    by_hand = (2 * Math.log(2 / 5.0)) + (12 * Math.log(12 / 3.0)) - (14 * Math.log(14 / 8.0))
    assert_equal 5, found.step
    assert_in_delta by_hand, found.gain, 1e-9
  end

  def test_what_stands_alone_before_does_not_begin_it
    found = rise([*Array.new(80, 0), 1, 0, 0, 0, 9, 8, 9, 9, 8, 9])
    assert_equal 84, found.step
  end

  def test_nothing_and_a_fall_are_no_rise
    assert_nil rise([0, 0, 0])
    assert_nil(rise([9, 8, 9, 0, 0, 0])&.then { |found| found if found.clear })
    refute rise([0, 0, 1, 0]).clear
  end

  # Noise of one rate: fewer than one in a hundred passes for a rise.
  def test_chance_passes_seldom
    random = Random.new(4)
    clear = Array.new(300) { rise(Array.new(120) { random.rand < 0.3 ? 1 + random.rand(3) : 0 })&.clear }.count(true)
    assert_operator clear, :<=, 9
  end

  Told = Struct.new(:time_us, :kind, :machine, :says)
  SECOND = 1_000_000
  MAP =
    Fleet::Dependencies.new(
      [%w[kiosk app], %w[app db], %w[db switch], %w[gate app]].map do |machine, on|
        Fleet::Dependencies::Edge.new(machine, on, "needs")
      end
    )

  def order(*told, machine: "kiosk", named: [], &past)
    Cause::Ranking.new(machine: machine, onset_us: 10_000 * SECOND, dependencies: MAP, named: named).order(told, &past)
  end

  def told(seconds_before, machine, kind: "change", says: "changed")
    Told.new((10_000 - seconds_before) * SECOND, kind, machine, says)
  end

  def test_nearer_in_time_and_place_comes_first
    found =
      order(
        told(600, "switch"), told(600, "kiosk"), told(60, "elsewhere"), told(600, "gate"), told(5000, "kiosk"),
        told(-5, "kiosk")
      )
    assert_equal(%w[kiosk switch gate elsewhere kiosk].sort, found.map { |one| one.happening.machine }.sort)
    assert_equal(
      ["kiosk", "switch", 0, 3, "here", "below"],
      [
        found[0].happening.machine, found[1].happening.machine, found[0].steps, found[1].steps, found[0].where,
        found[1].where
      ]
    )
    assert_equal(%w[beside elsewhere], found.map(&:where) & %w[beside elsewhere])
  end

  def test_what_often_did_no_harm_sinks
    often = told(100, "app", says: "rotated")
    once = told(300, "db", says: "changed")
    past = ->(one) { one == often ? Cause::Ranking::Past.new(20, 0) : Cause::Ranking::NEVER }
    assert_equal [once, often], order(often, once, &past).map(&:happening)
    assert_equal [often, once], order(often, once).map(&:happening)
    assert_in_delta 1.0, Cause::Ranking::NEVER.weight
  end

  def test_machines_that_are_named_show_the_way
    own = told(200, "kiosk")
    other = told(200, "app")
    assert_equal [own, other], order(own, other).map(&:happening)
    assert_equal [other, own], order(own, other, named: %w[app]).map(&:happening)
  end

  def test_ends_of_trouble_and_what_is_no_change_are_no_causes
    assert_empty order(
      told(60, "kiosk", kind: "link", says: "link eth0 is up"), told(60, "kiosk", kind: "logon"),
      told(60, "kiosk", kind: "memory-kill")
    )
  end
end
