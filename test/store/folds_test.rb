# frozen_string_literal: true

require_relative "../test_helper"

# Stretches without a line take few steps of the rail; where lines stand on it is the same line for line.
class FoldsTest < Northdrift::StoreTest
  include Northdrift

  DAY = 86_400

  def import_times(*times)
    import_text(times.sort.map { |time| "#{time.utc.iso8601} alder app: tick\n" }.join)
  end

  # @return [Time] when a step starts, reckoned as the page does
  def moment(histogram, step)
    first = 0
    us = histogram.start_us
    histogram.folds.each do |fold|
      next if step < fold.step + Store::Folds::STEPS

      first = fold.step + Store::Folds::STEPS
      us = fold.to_us
    end
    Time.at(0, us + ((step - first) * histogram.step_us), :microsecond, in: "UTC")
  end

  def test_every_line_stands_in_the_step_of_its_time
    near = Array.new(50) { |index| Time.utc(2026, 11, 20) + (index * 937) }
    far = [Time.utc(2019, 1, 3, 10), Time.utc(2023, 5, 5, 12), Time.utc(2023, 5, 6, 11, 30)]
    import_times(*near, *far)
    histogram = question.histogram(bins: 96, fold: true)
    assert_equal 2, histogram.folds.size
    assert_operator histogram.step_us, :<=, 3600 * 1_000_000
    assert_operator histogram.steps, :<=, 96
    assert_equal 53, histogram.total
    counts = histogram.series.first.counts.transform_values(&:sum)
    expected = [*near, *far].group_by do |time|
      (0...histogram.steps).select { |step| moment(histogram, step) <= time }.max_by { |step| moment(histogram, step) }
    end
    assert_equal(expected.transform_values(&:size), counts)
    histogram.folds.each do |fold|
      within = [*near, *far].select { |time| (time.to_i * 1_000_000).between?(fold.from_us, fold.to_us - 1) }
      assert_empty within
    end
  end

  def test_small_gaps_stay_and_so_does_what_is_asked_for_whole
    import_times(*Array.new(40) { |index| Time.utc(2026, 11, 1) + (index * 2 * DAY) })
    assert_empty question.histogram(fold: true).folds, "each is a small part of the window"
    import_times(Time.utc(2020, 1, 1))
    assert_empty question.histogram.folds
    assert_equal 1, question.histogram(fold: true).folds.size
  end
end
