# frozen_string_literal: true

require_relative "../test_helper"

# Windows around a millisecond and below: what is found has exactly their times, however many lines share them.
class ShortWindowsTest < Northdrift::StoreTest
  include Northdrift

  START = Time.utc(2026, 11, 22, 6, 12, 8)

  def setup
    super
    # Three lines in each ten microseconds of 4 milliseconds: more than a millisecond's ids can tell apart.
    @times = Array.new(1200) { |index| micros(START) + ((index / 3) * 10) }
    import_text(
      @times.each_with_index.map do |time, index|
        "#{Time.at(0, time, :microsecond, in: 'UTC').strftime('%FT%T.%6NZ')} alder app: n=#{index}\n"
      end.join
    )
  end

  def micros(time) = time.to_i * 1_000_000

  [[0, 4000], [1000, 3000], [500, 1500], [995, 1005], [3990, 5000], [10, 20], [15, 19], [0, 1]].each do |from, to|
    define_method("test_from_#{from}_to_#{to}") do
      from_us = micros(START) + from
      to_us = micros(START) + to
      expected = @times.count { |time| time >= from_us && time < to_us }
      ["", "n >= 0", "host.name = alder", "severity = unset", "alder"].each do |find|
        asked = question(find, from_us: from_us, to_us: to_us)
        assert_equal expected, asked.total, "total of #{find.inspect}"
        assert_equal expected, asked.to_enum(:each).count, "lines of #{find.inspect}"
        assert_equal expected, asked.histogram(bins: 50).total, "histogram of #{find.inspect}"
      end
      assert_equal expected, question(from_us: from_us, to_us: to_us).template_counts(
        from_us, to_us, start_us: from_us, step_us: 10_000
      ).first.each_value.sum(&:first)
    end
  end
end
