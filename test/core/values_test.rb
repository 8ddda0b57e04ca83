# frozen_string_literal: true

require_relative "../test_helper"

# What values are, and how numbers are laid out.
class ValuesTest < Minitest::Test
  include Northdrift
  include Northdrift::Measure

  TYPES = {
    %w[1 2 3.5] => "number", %w[350ms 2s 1.5min] => "duration", ["1.2 GB", "5MiB"] => "size", %w[93% 7%] => "share",
    %w[10.0.0.1 2001:db8::7 ::1] => "address", %w[true false] => "yes or no", %w[ida olav] => "text",
    %w[1 two 3] => "text", [] => "text", %w[12:30:00 1.2.3] => "text"
  }.freeze

  TYPES.each_with_index do |(values, type), index|
    define_method("test_type_#{index}") { assert_equal type, ValueType.of("field", values), values.inspect }
  end

  def test_the_name_of_a_field_tells_the_unit
    assert_equal "duration", ValueType.of("duration_ms", %w[10 20])
    assert_in_delta 0.35, ValueType.number("duration_ms", "350"), 1e-12
    assert_in_delta 0.35, ValueType.number("took", "350ms"), 1e-12
    assert_in_delta 1_200_000_000, ValueType.number("size", "1.2 GB"), 1e-3
    assert_nil ValueType.number("took", "soon")
  end

  def test_bins_of_equal_width_hold_every_value
    counts = [[0, 3], [4, 1], [5, 2], [10, 4]]
    edges = Bins.edges(0, 10, 5, 4)
    assert_equal [0.0, 2.5, 5.0, 7.5, 10.0], edges
    assert_equal [3, 1, 2, 4], Bins.counts(counts, edges)
    assert_equal [4], Bins.counts([[7, 4]], Bins.edges(7, 7, 7, 24))
  end

  # A few values far beyond the rest would leave one bin full and the others empty.
  def test_bins_of_equal_ratio_where_values_are_far_apart
    edges = Bins.edges(1, 10_000, 2, 4)
    [1, 10, 100, 1000, 10_000].zip(edges) { |expected, edge| assert_in_delta expected, edge, 1e-6 }
    assert_equal [5, 0, 0, 1], Bins.counts([[1, 3], [2, 2], [10_000, 1]], edges)
  end

  TEXTS = {
    [0.35, "s"] => "350 ms", [1800, "s"] => "30 min", [0.000012, "s"] => "12 µs", [0, "s"] => "0 s",
    [1_500_000, "B"] => "1.5 MB", [12, "B"] => "12 B", [93.25, "%"] => "93.3 %", [1234.5, nil] => "1235",
    [2.0, nil] => "2", [nil, "s"] => "-"
  }.freeze

  TEXTS.each_with_index do |((value, unit), text), index|
    define_method("test_text_#{index}") { assert_equal text, Units.text(value, unit) }
  end

  # Messages of time daemons and operating systems (common practice, from memory).
  STEPS = {
    "System clock was stepped by 250.000312 seconds" => 250_000_312,
    "System clock wrong by -1.250 seconds, adjustment started" => -1_250_000,
    "time stepped backwards by 12 s" => -12_000_000,
    "step time server 10.0.0.5 offset 3.5 sec" => nil,
    "The system time has changed to 2026-11-22T06:12:08.500Z from 2026-11-22T06:11:00.000Z." => 68_500_000,
    "the clock tower opened after 5 seconds" => nil
  }.freeze

  STEPS.each_with_index do |(message, step), index|
    define_method("test_step_#{index}") do
      step ? assert_equal(step, Clocks::Steps.of(message), message) : assert_nil(Clocks::Steps.of(message), message)
    end
  end

  def test_words_that_tell_something
    telling = %w[timeout err_timeout vlan ipv6 kb5031364 naïve]
    dull = %w[the error id 12 0x7f3a deadbeef01 2026 21t06 ab]
    assert_equal(telling, (telling + dull).select { |word| Words::Common.telling?(word) })
  end
end
