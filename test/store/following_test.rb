# frozen_string_literal: true

require_relative "../test_helper"

# Lines that come in are told once each, in whatever order they come, and those that are too many are counted.
class FollowingTest < Northdrift::StoreTest
  include Northdrift

  def line(host, at, text) = "<14>1 #{at.strftime('%FT%T.%6NZ')} #{host} app 1 - - #{text}"

  # @param batches [Array<Array<String>>] lines as they come in
  # @return [Array<Array(Array<String>, Integer)>] messages and how many were skipped, for each
  def told(batches, find: "", before: [], **options)
    come(before)
    following = Store::Following.new(question(find, checked: false).spec, micros(NOW), **options)
    batches.map do |lines|
      come(lines)
      following.look(micros(NOW)).then { |news| [news.events.map(&:message), news.skipped] }
    end
  end

  def come(lines)
    @files = @files.to_i + 1
    import_text("#{lines.join("\n")}\n", name: "#{@files}.log") unless lines.empty?
  end

  def test_each_line_is_told_once_whatever_its_time
    random = Random.new(5)
    lines = Array.new(400) { |index| line(%w[alder birch][index % 2], NOW - random.rand(300.0), "line #{index}") }
    batches = lines.drop(100).each_slice(23).to_a
    all = told(batches, before: lines.first(100))
    wanted = batches.map { |batch| [batch.sort_by { |text| text[/\S+Z/] }.map { |text| text[/line \d+/] }, 0] }
    assert_equal wanted, all
  end

  # As where one source hands its lines on every few seconds, and others at once.
  def test_the_lines_of_a_late_source_are_told_among_many_of_others
    busy = lambda do |second|
      Array.new(300) { |index| line("alder", NOW - 60 + second + (index / 300.0), "busy #{second} #{index}") }
    end
    late = Array.new(3) { |index| line("birch", NOW - 58 + index, "late #{index}") }
    all = told([busy.call(9), late, []], before: [*busy.call(6), *busy.call(7), *busy.call(8)])
    assert_equal([[200, 100], [3, 0], [0, 0]], all.map { |messages, skipped| [messages.size, skipped] })
    assert_equal ["late 0", "late 1", "late 2"], all[1].first
  end

  def test_what_is_too_much_is_counted_beyond_its_reach
    lines = lambda do |from, to|
      Array.new(to - from) { |index| line("alder", NOW - 100 + ((from + index) * 0.01), "gust #{from + index}") }
    end
    all =
      told(
        [lines.call(60, 90), lines.call(90, 400), lines.call(400, 405)], before: lines.call(0, 60), reach: 50, most: 10
      )
    assert_equal([[10, 20], [10, 300], [5, 0]], all.map { |messages, skipped| [messages.size, skipped] })
    assert_equal(%w[89 399 404], all.map { |messages, _| messages.last[/\d+/] })
  end

  def test_lines_that_were_there_come_into_reach_and_are_no_news
    lines = lambda do |host, from, to|
      Array.new(to - from) { |index| line(host, NOW - 100 + from + index, "#{host} #{from + index}") }
    end
    come(lines.call("alder", 0, 30))
    come(lines.call("birch", 30, 60))
    following = Store::Following.new(question.spec, micros(NOW), reach: 20, most: 10)
    Store::Removal.remove([2])
    assert_equal 0, following.look(micros(NOW)).events.size
    come(lines.call("alder", 60, 63))
    assert_equal ["alder 60", "alder 61", "alder 62"], following.look(micros(NOW)).events.map(&:message)
  end

  def test_a_condition_and_the_time_decide_what_is_news
    old = line("alder", NOW - 700, "gull long ago")
    ahead = line("alder", NOW + (2 * 86_400), "gull of a clock ahead")
    all = told([[old, ahead, line("alder", NOW - 1, "gull"), line("alder", NOW - 1, "tern")], []], find: "gull")
    assert_equal [[["gull"], 0], [[], 0]], all
  end
end
