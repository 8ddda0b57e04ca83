# frozen_string_literal: true

require_relative "../test_helper"

# However the database comes by a page or a count, it is what a look at every line gives.
class PagingTest < Northdrift::StoreTest
  include Northdrift

  HOSTS = %w[alder birch cedar].freeze

  # Many lines, of which one machine has few and falls silent for hours, and many share a millisecond.
  def lines
    random = Random.new(8)
    @lines ||= Array.new(6000) do |index|
      time = NOW - 36_000 + (index * 5)
      host = index % 500 == 7 && !index.between?(2000, 5000) ? "rowan" : HOSTS[random.rand(3)]
      priority = [11, 12, 14, 14, 14, 14][random.rand(6)]
      "<#{priority}>1 #{time.strftime('%FT%TZ')} #{host} app #{random.rand(9)} - - line #{index}"
    end
  end

  def setup
    super
    import_text("#{lines.join("\n")}\n")
  end

  def raws(page) = page.events.map { |event| Text.utf8(event.raw) }

  def expected(find)
    tree = Find::Parser.parse(find)
    matcher = Find::Matcher.new(tree)
    question.to_enum(:each).select { |event| matcher.match?(event.subject) }.map { |event| Text.utf8(event.raw) }
  end

  [
    "", "host.name = rowan", "host.name = alder", "severity = error", "host.name = cedar severity <= warning",
    "host.name = birch line", "host.name = rowan or host.name = alder"
  ].each_with_index do |find, index|
    define_method("test_walk_in_both_directions_#{index}") do
      all = expected(find)
      forward = []
      after = nil
      loop do
        page = question(find).page(after: after, limit: 97)
        forward.concat(raws(page))
        break unless page.more_after

        after = page.events.last.id
      end
      assert_equal all, forward, find
      backward = []
      before = nil
      loop do
        page = before ? question(find).page(before: before, limit: 89) : question(find).page(last: true, limit: 89)
        backward = raws(page) + backward
        break unless page.more_before

        before = page.events.first.id
      end
      assert_equal all, backward, find
    end
  end

  def test_windows_between_the_steps_of_the_counts
    random = Random.new(2)
    from, to = Store::Span.all
    40.times do
      start, stop = Array.new(2) { random.rand(from..to) }.sort
      find = ["host.name = rowan", "host.name = alder", "severity <= warning", ""][random.rand(4)]
      asked = question(find, from_us: start, to_us: stop)
      matcher = Find::Matcher.new(asked.tree)
      all = question(from_us: start, to_us: stop).to_enum(:each).select { |event| matcher.match?(event.subject) }
      assert_equal all.size, asked.total, find
      assert_equal all.size, asked.histogram(by: [nil, :machine][random.rand(2)], bins: random.rand(2..60)).total, find
      assert_equal all.last(30).map(&:id), asked.page(last: true, limit: 30).events.map(&:id), find
      assert_equal all.first(30).map(&:id), asked.page(limit: 30).events.map(&:id), find
    end
  end

  def test_a_page_says_whether_there_are_more_on_either_side
    ids = question.page(limit: 6000).events.map(&:id)
    {
      { limit: 6000 } => [false, false], { limit: 5999 } => [false, true], { last: true, limit: 5999 } => [true, false],
      { last: true, limit: 6000 } => [false, false], { after: ids[0], limit: 5999 } => [true, false],
      { after: ids[0], limit: 5998 } => [true, true], { before: ids[5999], limit: 5999 } => [false, true],
      { before: ids[5999], limit: 5998 } => [true, true], { around: ids[0], limit: 20 } => [false, true],
      { around: ids[5999], limit: 20 } => [true, false]
    }.each do |asked, more|
      page = question.page(**asked)
      assert_equal more, [page.more_before, page.more_after], asked
    end
  end

  # The severest of all is the first of its millisecond.
  def test_a_window_ends_before_the_moment_that_it_is_to
    import_text("<8>1 2026-11-23T13:00:00Z rowan app - - - on the hour\n", name: "hour.log")
    at = micros(Time.utc(2026, 11, 23, 13))
    {
      [at, at + 1000] => 1, [at - 1000, at] => 0, [at - 1000, at + 1000] => 1
    }.each do |(from, to), count|
      asked = question('"on the hour"', from_us: from, to_us: to)
      pages = [asked.page, asked.page(last: true)].map { |page| page.events.size }
      assert_equal [count, count, count], [asked.total, *pages], [from, to]
    end
  end

  def test_around_a_line_stand_those_before_and_after_it
    middle = question.page(limit: 3000).events.last
    page = question.page(around: middle.id, limit: 20)
    assert_equal lines[2989, 20], raws(page)
    assert page.more_before && page.more_after
  end

  def test_counts_beside_the_events_are_theirs
    from_events = Store::Database.rows("SELECT id & 15, count(*) FROM events GROUP BY 1")
    assert_equal from_events, Store::Database.rows("SELECT severity, sum(n) FROM minute_counts GROUP BY 1")
    assert_equal from_events, Store::Database.rows("SELECT severity, sum(n) FROM kind_counts GROUP BY 1")
    assert_equal Store::Database.rows("SELECT template_id, count(*) FROM events GROUP BY 1"),
                 Store::Database.rows("SELECT template_id, sum(n) FROM template_counts GROUP BY 1")
    assert_equal Store::Database.rows("SELECT kind_id, count(*) FROM events GROUP BY 1"),
                 Store::Database.rows("SELECT kind_id, sum(n) FROM kind_counts GROUP BY 1")
  end

  def test_pieces_cover_the_window_once
    from, to = Store::Span.all
    pieces = Store::Pieces.of(from, to, size: 500)
    assert_operator pieces.size, :>, 10
    assert_equal [from, to], [pieces.first.first, pieces.last.last]
    assert(pieces.each_cons(2).all? { |one, other| one.last == other.first })
    assert_equal(6000, pieces.sum { |start, stop| question(from_us: start, to_us: stop).total })
  end
end
