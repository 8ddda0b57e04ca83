# frozen_string_literal: true

require_relative "../test_helper"

# Taking a source out leaves the database as if it had never been read.
class RemovalTest < Northdrift::StoreTest
  include Northdrift

  KEPT = "Nov 22 06:12:08 alder app: kept line user=ida\nNov 22 06:12:09 alder app: kept ünïcode\n"
  GONE = [*Examples::ALL.keys, "2026-11-22 06:12:08 nul\0byte", "2026-11-22 06:12:08 caf\xE9 bad byte"].map { |line| "#{line.b}\n".b }.join

  def contents
    %w[events minute_counts kind_counts template_counts].to_h { |table| [table, Store::Database.rows("SELECT * FROM #{table}").map { |row| row.reject.with_index { |_, at| table == "events" && at == 3 } }] }
  end

  def terms
    Store::Database.rows("CREATE VIRTUAL TABLE IF NOT EXISTS temp.vocabulary USING fts5vocab('main', 'lines', 'instance')")
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

  def test_nothing_to_remove = assert_equal(0, Store::Removal.remove([]))

  def test_an_upload_is_taken_back
    jobs = Intake::Jobs.new(@data)
    first, other = [KEPT, GONE].map { |text| jobs.add(StringIO.new(text), name: "#{text.bytesize}.log", zone: "UTC", machine: nil, now_us: 1).tap { |job| jobs.work(job) } }
    jobs.take_back(other.reload)
    assert_equal ["removed", 2], [other.reload.state, question.total]
    assert_equal 2, Oj.load(first.reload.results).first["lines"]
  end
end
