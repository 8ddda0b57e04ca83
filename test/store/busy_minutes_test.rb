# frozen_string_literal: true

require_relative "../test_helper"

# Counts by second beside the events: always of whole minutes, always theirs, whatever is written, taken out and asked.
class BusyMinutesTest < Northdrift::StoreTest
  include Northdrift

  BUSY = Helpers::NOW - 3600
  LEVELS = %w[error warning info].freeze

  # @return [String] so many lines within seconds, in order of time
  def lines(count, start, seconds, word = "berth")
    Array.new(count) do |index|
      "<#{8 + (3 * (index % 2)) + 3}>1 #{(start + (index * seconds.fdiv(count))).strftime('%Y-%m-%dT%H:%M:%S.%LZ')} " \
        "alder app - - - #{word} #{index} is taken\n"
    end.join
  end

  def counted = Store::Database.rows("SELECT second, severity, n FROM second_counts ORDER BY 1, 2")

  # @return [Array<Array>] the same from the events, of minutes that are counted
  def there
    minutes = counted.map { |second,| second / 60 }.uniq
    Store::Database.rows(
      "SELECT (id >> 11) / 1000, id & 15, count(*) FROM events WHERE (id >> 11) / 60000 IN (#{minutes.join(',')}) " \
      "GROUP BY 1, 2 ORDER BY 1, 2"
    )
  end

  def busy = counted.map { |second,| second / 60 }.uniq

  def setup
    super
    import_text(lines(9000, BUSY, 80), name: "busy.log")
    import_text(lines(500, BUSY - 600, 1500, "quay"), name: "calm.log")
  end

  def test_only_busy_minutes_are_counted_by_second
    assert_equal [BUSY.to_i / 60], busy
    assert_equal there, counted
    # The minute after it becomes busy by what is added; the lines that were there before count too.
    import_text(lines(5000, BUSY + 60, 60, "crane"), name: "more.log")
    assert_equal [BUSY.to_i / 60, (BUSY.to_i / 60) + 1], busy
    assert_equal there, counted
    import_text(lines(300, BUSY + 30, 60, "ferry"), name: "still more.log")
    assert_equal there, counted
  end

  def test_what_is_taken_out_is_not_counted
    import_text(lines(3000, BUSY, 60, "crane"), name: "more.log")
    assert_equal 3000, Store::Removal.remove([Store::Source.last.id])
    assert_equal there, counted
    Store::Removal.remove(Store::Source.ids)
    assert_empty counted
  end

  # A minute that is busy no more, since lines of it were taken out, has its further lines counted all the same.
  def test_what_comes_after_lines_were_taken_out_is_counted
    Store::Removal.remove([Store::Source.find_by!("name LIKE ?", "%calm.log").id])
    import_text(lines(5000, BUSY + 300, 50, "crane"), name: "some.log")
    import_text(lines(5000, BUSY + 300, 50, "ferry"), name: "more.log")
    Store::Removal.remove([Store::Source.last.id])
    import_text(lines(200, BUSY + 300, 50, "tug"), name: "late.log")
    assert_equal [there, 5200], [counted, question(from_us: micros(BUSY + 300), to_us: micros(BUSY + 351)).total]
  end

  # Databases of before have minutes that lack such lines.
  def test_minutes_that_were_counted_wrongly_are_forgotten
    import_text(lines(7000, BUSY + 300, 50, "crane"), name: "some.log")
    Store::Database.rows("UPDATE second_counts SET n = n - 1 WHERE second = ?", [BUSY.to_i + 301])
    load File.join(Store::Database::MIGRATIONS, "011_mend_second_counts.rb")
    MendSecondCounts.new.tap { |migration| migration.verbose = false }.migrate(:up)
    assert_equal [BUSY.to_i / 60], busy
    assert_equal 7000,
                 question(from_us: micros(BUSY + 299), to_us: micros(BUSY + 351)).total -
                 question("quay", from_us: micros(BUSY + 299), to_us: micros(BUSY + 351)).total
    import_text(lines(1, BUSY + 301, 1, "tug"), name: "late.log")
    assert_equal there, counted
  end

  def test_lines_that_are_read_again_are_counted_once
    rule =
      Store::ParserRule.create!(
        name: "berths", pattern: 'berth (?P<berth>\d+)', types: '{"berth":"whole"}', created_us: 1, changed_us: 1
      )
    before = counted
    Store::Rereading.new(Store::Reread.of(rule, 1)).run
    assert_equal 100, question("berth < 100").total
    assert_equal before, counted
  end

  def test_windows_are_counted_as_their_lines_are
    random = Random.new(4)
    from, to = [BUSY - 20, BUSY + 120].map { |time| micros(time) }
    60.times do
      start, stop = Array.new(2) { random.rand(from..to) }.sort
      start, stop = [start, stop].map { |us| us / 1_000_000 * 1_000_000 } if random.rand(2).zero?
      find = ["", "severity <= warning", "severity = error", "berth", "host.name = alder"][random.rand(5)]
      asked = question(find, from_us: start, to_us: stop + 1)
      histogram = asked.histogram(bins: random.rand(2..150))
      expected = Hash.new(0)
      asked
        .to_enum(:each)
        .each { |event| expected[[(event.time_us - histogram.start_us) / histogram.step_us, event.severity]] += 1 }
      counts =
        histogram
          .series
          .flat_map do |one|
            one.counts.flat_map do |step, severities|
              severities.each_with_index.filter_map { |n, code| [[step, code], n] if n.positive? }
            end
          end
          .to_h
      assert_equal expected.sort, counts.sort, [find, start, stop, histogram.step_us].inspect
      assert_equal expected.values.sum, asked.total
    end
  end
end
