# frozen_string_literal: true

require_relative "../test_helper"

class PatternsStoreTest < Northdrift::StoreTest
  include Northdrift

  def line(seconds, text, host: "alder") = "#{(NOW - 7200 + seconds).strftime('%b %e %T')} #{host} app: #{text}\n"

  def calm(from, count)
    (0...count).map do |index|
      line(from + (index * 6), "session #{index} opened for user ida from 10.0.0.#{index % 9}")
    end
  end

  def table(**options) = Store::PatternTable.new(question(**options)).count

  def test_lines_become_patterns_with_their_counts
    import_text(
      (
        calm(0, 50) +
          Array.new(7) do |index|
            line(400 + index, "disk /dev/sda#{index} failed after #{index} retries", host: "birch")
          end
      ).join
    )
    rows = table.rows
    assert_equal(
      [["session … opened for user … from …", 50, ["alder"]], ["disk … failed after … retries", 7, ["birch"]]],
      rows.map { |row| [row.text, row.lines, row.machines] }
    )
    assert_equal [57, 50], [table.total, rows[0].steps.sum]
    assert_equal 7, rows[1].severities[Severity::ERROR]
    assert_equal([50, 7], rows.map { |row| question("pattern = P#{row.id}").total })
    assert_equal 7, question("not pattern = P#{rows[0].id}").total
  end

  def test_the_same_lines_have_the_same_patterns_in_whatever_order_and_pieces
    lines = calm(0, 40) + Array.new(40) { |index| line(index * 7, "cache #{index} flushed") }
    import_text(lines.first(30).join, name: "a.log")
    import_text(lines.drop(30).shuffle(random: Random.new(1)).join, name: "b.log")
    assert_equal [40, 40], table.rows.map(&:lines)
    assert_equal 2, Store::Database.value("SELECT count(*) FROM patterns")
  end

  TERMINALS = %w[east west north south quay berth tower depot yard bridge office cellar attic].freeze

  def test_patterns_that_turn_out_to_be_one_are_joined_and_old_numbers_still_work
    import_text(
      line(0, "accepted password on terminal #{TERMINALS[0]}") +
        line(1, "accepted password on terminal #{TERMINALS[1]}"), name: "a.log"
    )
    ids = table.rows.map(&:id)
    assert_equal(["accepted password on terminal east", "accepted password on terminal west"], table.rows.map(&:text))
    import_text(
      TERMINALS
        .drop(2)
        .each_with_index
        .map { |terminal, index| line(2 + index, "accepted password on terminal #{terminal}") }
        .join, name: "b.log"
    )
    assert_equal(
      [[ids.min, "accepted password on terminal …", TERMINALS.size]],
      table.rows.map { |row| [row.id, row.text, row.lines] }
    )
    ids.each { |id| assert_equal TERMINALS.size, question("pattern = P#{id}").total }
    import_text(line(60, "accepted password on terminal roof"), name: "c.log")
    assert_equal [TERMINALS.size + 1], table.rows.map(&:lines)
  end

  # What differs in one word of few forms is two things, however much else is the same.
  def test_states_are_told_apart
    import_text(
      Array
        .new(40) do |index|
          line(index, "port #{index} of bridge entered #{%w[blocking forwarding disabled][index % 3]} state")
        end
        .join
    )
    assert_equal [13, 13, 14], table.rows.map(&:lines).sort
  end

  def test_what_is_new_comes_first_and_what_was_always_there_sinks
    middle = 3600
    import_text(
      [
        *calm(0, 1200), *Array.new(60) { |index| line(middle + 100 + (index * 3), "link gate-#{index} went down") },
        *Array.new(80) { |index| line(index * 85, "replica #{index} is behind") }
      ].sort.join
    )
    half = micros(NOW - 7200 + middle)
    now = question(from_us: half)
    rows = Store::PatternTable.new(now, against: question(to_us: half)).count.rows
    assert_equal ["new", "link … went down", 60, 0], [rows[0].change, rows[0].text, rows[0].lines, rows[0].before]
    assert_equal [["replica … is behind", "same"], ["session … opened for user … from …", "same"]],
                 rows.drop(1).map { |row| [row.text, row.change] }.sort
  end

  def test_a_number_that_no_pattern_has_finds_nothing
    import_text(calm(0, 3).join)
    assert_equal 0, question("pattern = P99999").total
    assert_includes assert_raises(Find::Mistake) { question("pattern = abc") }.message, "like P12"
    assert_includes assert_raises(Find::Mistake) { question("pattern > P1") }.message, "equal"
  end

  # Cut texts, control characters and bytes that are no UTF-8: a pattern finds exactly the lines it counted.
  def test_a_pattern_finds_all_its_lines_however_they_are_written
    odd = [
      "colour \e[31mred alert\e[0m shown", "caf\xE9 closed early".b, "tab\there and there", "naïve plan füllt",
      "#{'word' * 9} #{'lengthy' * 60} end", "a\u202Eb hidden"
    ]
    import_text(odd.map.with_index { |text, index| line(index, "x").b.sub("x".b) { text.b } }.join)
    rows = table.rows
    assert_equal odd.size, rows.sum(&:lines)
    rows.each { |row| assert_equal row.lines, question("pattern = P#{row.id}").total, row.text }
  end

  # Two processes that write in turn: what the other opened stays open.
  def test_another_writer_does_not_close_a_pattern
    import_text(line(0, "accepted password on terminal #{TERMINALS[0]}"), name: "a.log")
    writer = Store::Templates.new
    writer.intern("warms the cache of patterns up")
    pid = fork do
      Store::Database.open(@data)
      import_text(
        TERMINALS
          .each_with_index
          .map { |terminal, index| line(1 + index, "accepted password on terminal #{terminal}") }
          .join, name: "b.log"
      )
      exit!(0)
    end
    Process.wait(pid)
    writer.intern("accepted password on terminal roof")
    assert_equal "accepted password on terminal …", table.rows.first.text
    assert_equal TERMINALS.size + 1, question("pattern = P#{table.rows.first.id}").total
  end
end
