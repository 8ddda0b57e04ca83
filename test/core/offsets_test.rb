# frozen_string_literal: true

require_relative "../test_helper"

class OffsetsTest < Minitest::Test
  include Northdrift

  SECOND = 1_000_000

  # Exchanges between two clocks, one of which is off; the way there and back takes some time.
  def exchanges(count, off_us, one: "alder", other: "birch", seed: 1)
    random = Random.new(seed)
    Array.new(count) do |index|
      asked = index * 60 * SECOND
      there = random.rand(1..80_000)
      took = random.rand(1000..300_000)
      back = random.rand(1..80_000)
      { one => [asked, asked + there + took + back], other => [asked + there + off_us, asked + there + took + off_us] }
    end
  end

  def offsets(*sets)
    found = Clocks::Offsets.new
    sets.flatten.each { |sightings| found.add(sightings) }
    found.all
  end

  [250, -250, 3600, -2].each do |seconds|
    define_method("test_a_clock_that_is_off_by_#{seconds}_seconds") do
      found = offsets(exchanges(30, seconds * SECOND), exchanges(30, 0, one: "alder", other: "cedar", seed: 2))
      assert_in_delta seconds * SECOND, found["birch"].offset_us, 80_000
      assert_equal [0, 0], found.values_at("alder", "cedar").map(&:offset_us)
      assert_operator found["birch"].error_us, :<=, 80_000
    end
  end

  # RFC 5905, section 8: the offset is half the sum of the two differences, and the delay bounds its error.
  def test_one_exchange_bounds_as_the_network_time_protocol_has_it
    t1 = 0
    t2 = 5_040_000
    t3 = 5_140_000
    t4 = 200_000
    found = offsets(Array.new(3) { { "alder" => [t1, t4], "birch" => [t2, t3] } })
    assert_equal ((t2 - t1) + (t3 - t4)) / 2, found["birch"].offset_us - found["alder"].offset_us
    assert_equal ((t4 - t1) - (t3 - t2)) / 2, found["birch"].error_us
  end

  def test_what_does_not_fit_is_outvoted
    wild =
      Array.new(10) do |index|
        { "alder" => [0, 100_000], "birch" => [index * 90 * SECOND, (index * 90 * SECOND) + 50_000] }
      end
    found = offsets(exchanges(30, 250 * SECOND), wild)
    assert_in_delta 250 * SECOND, found["birch"].offset_us - found["alder"].offset_us, 80_000
    assert_equal 30, found["birch"].exchanges
  end

  def test_too_little_says_nothing
    assert_empty offsets(exchanges(2, 250 * SECOND))
    assert_empty offsets(
      Array.new(20) do |index|
        { "alder" => [0, 1000], "birch" => [index * 60 * SECOND, (index * 60 * SECOND) + 500] }
      end
    )
  end

  # birch is known through alder, dogwood through birch.
  def test_a_chain_of_exchanges
    found = offsets(exchanges(20, 100 * SECOND), exchanges(20, 50 * SECOND, one: "birch", other: "dogwood", seed: 4))
    assert_in_delta 150 * SECOND, found["dogwood"].offset_us - found["alder"].offset_us, 200_000
  end

  # Both ends of a link tell when it comes and goes; birch's clock is off, and it notices a little later.
  def linked(moments, off_us, seed: 3)
    random = Random.new(seed)
    links = Clocks::Links.new(%w[alder birch cedar])
    moments.each_with_index do |at, index|
      word = index.even? ? "down" : "up"
      links.add("alder", "alder", at * SECOND, "adjacency with birch on radio0 changed to #{word}")
      next if index == 4

      links.add(
        "birch", "birch", (at * SECOND) + off_us + random.rand(0..900_000),
        "Neighbor alder is #{word}: hold time over"
      )
    end
    links
  end

  def test_both_ends_of_a_link
    links = linked([0, 31, 300, 390, 1200, 1231, 3000, 3333, 4000, 4040], 250 * SECOND)
    found = Clocks::Offsets.new
    links.bounds.each { |(one, other), bounds| bounds.each { |low, high| found.bound(one, other, low, high) } }
    clocks = found.all
    assert_in_delta 250 * SECOND, clocks["birch"].offset_us - clocks["alder"].offset_us, 1_500_000
    assert_equal 9, clocks["birch"].exchanges
  end

  # A radio link in a storm, or somebody who writes such lines: all pairs of them are too many to look at.
  def test_a_link_that_comes_and_goes_thousands_of_times
    random = Random.new(5)
    at = 0
    links = linked(Array.new(4000) { at += random.rand(20..900) }, 250 * SECOND)
    bounds = links.bounds.fetch(%w[alder birch])
    assert(bounds.all? { |low, high| (250 * SECOND).between?(low, high) })
    assert_operator bounds.size, :>=, Clocks::Links::MOST * Clocks::Offsets::AGREE
  end

  def test_a_value_that_all_have_is_no_exchange
    found = Clocks::Offsets.new
    5.times { |at| found.add((0..400).to_h { |number| ["hall#{number}", [at * SECOND, (at + number) * SECOND]] }) }
    assert_empty found.all
  end

  def test_a_link_that_flaps_like_a_clock_says_nothing_of_clocks
    assert_empty linked((0..9).map { |index| index * 60 }, 250 * SECOND).bounds
  end

  def test_two_moments_of_a_link_are_too_few
    assert_empty linked([0, 31], 250 * SECOND).bounds
    links = Clocks::Links.new(%w[alder birch])
    5.times { |index| links.add("alder", "alder", index**2 * 60 * SECOND, "neighbor birch down") }
    assert_empty links.bounds
  end
end
