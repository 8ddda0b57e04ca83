# frozen_string_literal: true

require_relative "../test_helper"

class StoreDetailsTest < Northdrift::StoreTest
  include Northdrift

  def test_what_is_read_comes_back_as_it_was
    lines = Northdrift::Examples::ALL.keys.reject { |line| line == "Use the BFG!" }
    import_text("#{lines.join("\n")}\n")
    assert_equal lines.sort, found.sort
    event = question("held closed").page.events.first
    assert_equal 'a "b" ]', event.fields["note"]
    assert_equal "gate-brn-1", event.machine
    assert_equal "2026-11-22T05:12:09.500000Z", event.time
    assert_equal 30_000, question("duration_ms = 30000").page.events.first.fields["duration_ms"]
  end

  def test_stamps_are_restored_to_the_letter
    stamps = [
      "2026-11-22T06:12:08.000001Z x", "2026-11-22T06:12:08.120Z x", "2026-11-22T06:12:08Z x", "2026-11-22 06:12:08 x",
      "2026-11-22T06:12:08.1Z x", "2026-11-22T07:12:08+01:00 x", "2026-11-22T06:12:08.123456+00:00 h t: x",
      "Nov 22 06:12:08 h t: x", "Nov  2 06:12:08 h t: x", "[2026-11-22T06:12:08.120Z] x"
    ]
    import_text("#{stamps.join("\n")}\n")
    assert_equal stamps.sort, found.sort
    assert_equal 1, question("text ~ /^2026-11-22T06:12:08\\.000001Z/").total
  end

  def test_order_of_the_file_stands_among_equal_times
    lines = Array.new(1500) { |index| "2026-11-22 06:12:08 line number #{index}" }
    import_text("#{lines.join("\n")}\n")
    assert_equal lines, found
    assert_equal 1, found.map { |line| line[0, 19] }.uniq.size
    import_text("2026-11-22 06:12:08 another file\n", name: "other.log")
    assert_equal 1501, question.total
    assert_equal micros(Time.utc(2026, 11, 22, 6, 12, 8)), question("another").page.events.first.time_us
  end

  def test_pages_by_key_from_either_end
    import_text(
      Array.new(950) { |index| "2026-11-22 06:#{format('%02d:%02d', index / 60, index % 60)} n#{index}\n" }.join
    )
    forward = []
    after = nil
    loop do
      page = question.page(after: after, limit: 100)
      forward += page.events
      break unless page.more_after

      after = page.events.last.id
    end
    backward = []
    before = nil
    loop do
      page = question.page(before: before, last: before.nil?, limit: 70)
      backward = page.events + backward
      break unless page.more_before

      before = page.events.first.id
    end
    assert_equal 950, forward.size
    assert_equal forward.map(&:id), backward.map(&:id)
    around = question.page(around: forward[500].id, limit: 20)
    assert_equal forward[490...510].map(&:id), around.events.map(&:id)
  end

  def test_more_kinds_than_an_expression_holds
    lines = Array.new(800) { |index| "Nov 22 06:12:08 h-#{index % 260} unit#{index % 3}: word#{index % 7}\n" }
    import_text(lines.join)
    assert_equal lines.count { |line| line.include?("unit1:") }, question("service.name = unit1").total
    assert_equal lines.count { |line| line.include?("unit1:") && line.include?("word3") },
                 question("service.name = unit1 word3").total
    assert_equal lines.count { |line| !line.include?("unit1:") }, question("not service.name = unit1").total
  end

  def test_field_names_without_end_are_kept_with_their_values
    import_text(
      Oj.dump(
        {
          "time" => "2026-11-22T06:12:08Z", **(1..250).to_h { |index| ["k#{index}", index] },
          "a" => (1..150).to_h { |index| ["n#{index}", "v#{index}"] }
        }, mode: :strict
      )
    )
    event = question.page.events.first
    assert_equal 7, event.fields["k7"]
    assert_equal 1, question("v1").total
  end

  def test_marks_of_the_index_cannot_be_forged
    import_text("2026-11-22 06:12:08 \u{E001}1 \u{E002}0 hello\n2026-11-22 06:12:09 WARN other\n")
    assert_equal 0,
                 question("severity <= alert").total - question("severity = unset or severity >= notice").total +
                 question("severity = unset").total
    assert_equal 1, question("severity >= warning").total
  end

  def mode(path) = format("%o", File.stat(path).mode & 0o777)

  def test_nobody_else_looks_into_the_data_folder
    import_text("one\n")
    database = Store::Database.path
    assert_equal(%w[700 600 600], [@data, database, "#{database}-wal"].map { |path| mode(path) })
    # As an earlier version left them.
    File.chmod(0o755, @data)
    [database, "#{database}-wal"].each { |path| File.chmod(0o644, path) }
    assert Store::Database.exposed?(@data)
    Store::Database.open(@data)
    assert_equal %w[755 600 600], [@data, database, "#{database}-wal"].map { |path|
      mode(path)
    }, "a folder may have others"
  end
end
