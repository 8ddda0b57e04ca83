# frozen_string_literal: true

require_relative "../test_helper"

class QuantityTest < Minitest::Test
  include Northdrift
  include Northdrift::Find

  # Text, number in the base unit (seconds, bytes), dimension. SI prefixes of bytes are of 1000, those of IEC 80000-13
  # of 1024.
  TEXTS = {
    "2500" => [2500.0, nil], "-3.5" => [-3.5, nil], "1e3" => [1000.0, nil], ".5" => [0.5, nil],
    "350ms" => [0.35, :time], "2.5 s" => [2.5, :time], "3min" => [180.0, :time], "1h" => [3600.0, :time],
    "2d" => [172_800.0, :time], "15us" => [1.5e-5, :time], "15µs" => [1.5e-5, :time], "10MB" => [1e7, :size],
    "1.2 GB" => [1.2e9, :size], "64KiB" => [65_536.0, :size], "1mib" => [1_048_576.0, :size], "93%" => [93.0, :share]
  }.freeze

  TEXTS.each_with_index do |(text, (base, dimension)), index|
    define_method("test_text_#{index}") do
      quantity = Quantity.parse(text)
      assert_in_epsilon base, quantity.base, 1e-12, text
      assert_equal [dimension], [quantity.dimension], text
    end
  end

  ["1e999", "-1e400 MB", "", "fast", "10 sheep", "1.2.3", "0x10", "10:30", "5 5", "ms"].each_with_index do |text, index|
    define_method("test_no_quantity_#{index}") { assert_nil Quantity.parse(text), text }
  end

  # Value, what was typed, field; as <=>.
  COMPARISONS = [
    ["2501", "2.5s", "duration_ms", 1], ["2500", "2.5s", "duration_ms", 0], ["3", "2.5s", "duration_s", 1],
    ["2", "2.5s", "elapsed", -1], ["350ms", "350", "took", 0], ["1KiB", "1kb", "size", 1], ["5s", "1MB", "took", nil],
    ["80%", "75", "used", 1], ["1500", "1.5kb", "sent.bytes", 0]
  ].freeze

  COMPARISONS.each_with_index do |(value, wanted, field, expected), index|
    define_method("test_comparison_#{index}") do
      assert_equal [expected], [Quantity.compare(Quantity.parse(value), Quantity.parse(wanted), field)],
                   "#{value} against #{wanted}"
    end
  end

  def test_a_bare_number_counts_in_the_unit_of_the_value
    assert_equal 1, Quantity.compare(Quantity.parse("350ms"), Quantity.parse("349"), "took")
    assert_equal(-1, Quantity.compare(Quantity.parse("10MB"), Quantity.parse("11"), "size"))
  end
end
