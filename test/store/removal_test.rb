# frozen_string_literal: true

require_relative "../test_helper"

# Taking a source out leaves the database as if it had never been read.
class RemovalTest < Northdrift::StoreTest
  include Northdrift

  KEPT = "Nov 22 06:12:08 alder app: kept line user=ida\nNov 22 06:12:09 alder app: kept ünïcode\n"
  GONE =
    [*Examples::ALL.keys, "2026-11-22 06:12:08 nul\0byte", "2026-11-22 06:12:08 caf\xE9 bad byte"].map do |line|
      "#{line.b}\n".b
    end
      .join

  def contents
    %w[events minute_counts kind_counts kind_hours template_counts].to_h do |table|
      [
        table,
        Store::Database
          .rows("SELECT * FROM #{table}")
          .map { |row| row.reject.with_index { |_, at| table == "events" && at == 3 } }
      ]
    end
  end

  def terms
    Store::Database.rows(
      "CREATE VIRTUAL TABLE IF NOT EXISTS temp.vocabulary USING fts5vocab('main', 'lines', 'instance')"
    )
    Store::Database.rows("SELECT term, doc FROM temp.vocabulary ORDER BY term, doc")
  end

  def test_what_is_left_is_what_would_be_there
    import_text(KEPT, name: "kept.log")
    before = [contents, terms]
    import_text(GONE, name: "gone.log")
    refute_equal before, [contents, terms]
    gone = Store::Source.find_by("name LIKE '%gone.log'")
    assert_equal gone.events, Store::Removal.remove([gone.id])
    assert_equal before, [contents, terms]
    assert_equal ["ok"], Store::Database.rows("PRAGMA integrity_check").flatten
    Store::Database.rows("INSERT INTO lines(lines) VALUES ('integrity-check')")
  end

  def test_the_same_content_can_be_read_again
    import_text(GONE, name: "gone.log")
    lines = question.total
    Store::Removal.remove(Store::Source.ids)
    assert_equal [0, 0], [question.total, Store::Source.count]
    assert_equal lines, import_text(GONE, name: "gone.log").events
  end

  # A device that lost its clock starts in 1970, by its own zone; another has a year that no clock should have. Their
  # times are set aside, and they are counted.
  def test_clocks_that_are_far_off_are_counted_like_others
    import_text(KEPT, name: "kept.log")
    before = contents
    stamps = %w[
      1970-01-01T00:00:05+01:00 1969-12-31T23:58:30Z 0001-01-01T00:00:00Z 9999-12-31T23:59:59Z 2300-06-01T00:00:00Z
    ]
    import_text(stamps.map { |stamp| "<11>1 #{stamp} birch app - - - port down\n" }.join, name: "gone.log")
    assert_equal [5, 5],
                 [
                   question("host.name = birch").total,
                   question("host.name = birch").histogram(by: :machine, bins: 20).total
                 ]
    around_1970 = question("host.name = birch", from_us: -micros(Time.at(86_400)), to_us: micros(Time.at(86_400)))
    assert_equal 0, around_1970.histogram(by: nil, bins: 20).total
    assert_equal [5], Store::PatternTable.new(question("host.name = birch")).count.rows.map(&:lines)
    %w[kind_counts template_counts].each do |table|
      assert_equal [7],
                   Store::Database.rows("SELECT sum(n) FROM #{table} WHERE n > 0 AND #{table[0..-8]}_id > 0").flatten
    end
    Store::Removal.remove([Store::Source.last.id])
    assert_equal before, contents
  end

  def test_nothing_to_remove = assert_equal(0, Store::Removal.remove([]))

  def test_an_upload_is_taken_back
    jobs = Intake::Jobs.new(@data)
    first, other =
      [KEPT, GONE].map do |text|
        jobs
          .add(StringIO.new(text), name: "#{text.bytesize}.log", zone: "UTC", machine: nil, now_us: 1)
          .tap { |job| jobs.work(job) }
      end
    jobs.take_back(other.reload)
    assert_equal ["removed", 2], [other.reload.state, question.total]
    assert_equal 2, Oj.load(first.reload.results).first["lines"]
  end
end
