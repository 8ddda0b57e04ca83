# frozen_string_literal: true

require "minitest/mock"
require_relative "../test_helper"

# Parsers applied to what is stored.
class RereadingTest < Northdrift::StoreTest
  include Northdrift

  PATTERN = 'berth (?P<berth>\w+) took (?P<took_ms>\d+) ms, (?P<load>[\d.]+) t for (?P<host>\S+)'
  TYPES = { "took_ms" => "whole", "load" => "number", "host" => "machine" }.freeze
  LINES = Array.new(500) do |index|
    second = format("%02d", index % 60)
    took = "took #{index} ms, #{index}.50 t for crane-#{index % 3}"
    next "{\"time\":\"2026-11-22T06:14:#{second}Z\",\"msg\":\"berth \\u0061b#{index} #{took}\"}" if (index % 5).zero?

    said = (index % 4).zero? ? "nothing of it" : "berth #{%w[a b][index % 2]} #{took}"
    "Nov 22 06:14:#{second} quay craned: #{said}"
  end.map { |line| "#{line}\n" }.join

  def rule(**more)
    Store::ParserRule.create!(
      name: "berths", pattern: PATTERN, types: Oj.dump(TYPES, mode: :strict), created_us: 1, changed_us: 1, **more
    )
  end

  def reread(rule) = Store::Reread.of(rule, 1).tap { |reread| Store::Rereading.new(reread).run }.reload

  # What people see of every line, and all counts.
  def everything
    lines =
      question.to_enum(:each).map { |event| [event.raw, event.machine, event.service, event.message, event.fields] }
    kinds = Store::Kinds.current.to_h { |kind| [kind.id, [kind.machine, kind.service, kind.layout.sort, kind.traits]] }
    counts =
      Store::Database
        .rows("SELECT kind_id, slot, severity, n FROM kind_counts")
        .map { |id, *count| [kinds[id], *count] }
    [lines.sort_by(&:inspect), counts.sort_by(&:inspect)]
  end

  def terms
    Store::Database.rows(
      "CREATE VIRTUAL TABLE IF NOT EXISTS temp.vocabulary USING fts5vocab('main', 'lines', 'instance')"
    )
    Store::Database.rows("SELECT term, doc FROM temp.vocabulary ORDER BY term, doc")
  end

  # The same lines, in a database where the parser stood from the start, must come out the same.
  def test_lines_are_as_if_the_parser_had_been_there
    import_text(LINES)
    assert_equal %w[done 500 400], reread(rule).slice("state", "looked_at", "altered").values.map(&:to_s)
    later = everything
    teardown
    setup
    rule
    import_text(LINES)
    assert_equal everything, later
  end

  # The same counted by an expression of Ruby's over the text.
  def test_what_it_found_can_be_asked_for
    import_text(LINES)
    reread(rule)
    read = LINES.lines.filter_map { |line| line.match(/took (\d+) ms, ([\d.]+) t for (\S+?)"?\}?$/)&.captures }
    assert_equal read.size, question("parser = berths").total
    assert_equal read.count { |took, load, _| took.to_i >= 100 && load.to_f < 400 },
                 question("took_ms >= 100 and load < 400").total
    assert_equal read.count { |_, _, host| host == "crane-0" }, question("host.name = crane-0").total
  end

  def test_it_is_undone
    import_text(LINES)
    before = [everything, terms]
    run = reread(rule)
    refute_equal before, [everything, terms]
    run.update!(state: "undoing")
    Store::Rereading.new(run).undo
    assert_equal before, [everything, terms]
    assert_equal ["undone", 0], run.reload.slice("state", "altered").values
    assert_equal 0, question("has took_ms").total
    Store::Database.rows("INSERT INTO lines(lines) VALUES ('integrity-check')")
  end

  def test_a_run_that_was_interrupted_goes_on_where_it_was
    import_text(LINES * 12)
    run = Store::Reread.of(rule, 1)
    Store::Rereading.new(run).tap { |rereading| def rereading.going_on?(_) = (@rounds = @rounds.to_i + 1) <= 1 }.run
    Store::Reread.where(id: run.id).update_all(state: "running")
    assert_operator run.reload.looked_at, :<, 6000
    Store::Rereading.new(run).run
    assert_equal ["done", 6000, 4800], run.reload.slice("state", "looked_at", "altered").values
  end

  def test_what_was_stopped_stays_stopped
    import_text(LINES)
    run = Store::Reread.of(rule, 1)
    run.update!(state: "cancelled")
    Store::Rereading.new(run).run
    assert_equal ["cancelled", 0], run.reload.slice("state", "altered").values
  end

  # Between the reading of some lines and the writing of what was found, they are taken out and others get their places.
  def test_lines_that_came_into_the_places_of_others_are_left_alone
    import_text(LINES)
    source = Store::Source.first.id
    others = LINES.lines.reject { |line| line.start_with?("{") }.join.gsub(/berth (?=[ab] )/, "alongside at berth ")
    step = Store::Database.method(:step)
    waiting = [-> { Store::Removal.remove([source]) && import_text(others, name: "others.log") }]
    meanwhile = lambda do |&block|
      waiting.shift&.call
      step.call(&block)
    end
    Store::Database.stub(:step, meanwhile) { reread(rule(enabled: false)) }
    assert_equal others.scan("alongside at berth a ").size, question("alongside a").total
    assert_equal 0, question("has berth", checked: false).total
  end
end
