# frozen_string_literal: true

require_relative "../test_helper"

# Clocks that are off: how far is told by exchanges and by their own logs, and lines can be had in the order in which
# they happened.
class TrueTimeTest < Northdrift::StoreTest
  include Northdrift

  SLOW = 250
  START = NOW - 7200

  def entry(at, host, text, id)
    "<14>1 #{at.strftime('%Y-%m-%dT%H:%M:%S.%6NZ')} #{host} app 1 - [x@32473 request.id=\"#{id}\"] #{text}"
  end

  # alder asks birch, whose clock runs slow until it is set; cedar asks alder.
  def world
    lines = (0...40).flat_map do |index|
      at = START + (index * 60)
      off = index < 30 ? SLOW : 0
      [
        [at, entry(at, "alder", "asking", "r#{index}")],
        [at + 0.01, entry(at + 0.01 - off, "birch", "asked", "r#{index}")],
        [at + 0.05, entry(at + 0.05 - off, "birch", "answered", "r#{index}")],
        [at + 0.06, entry(at + 0.06, "alder", "answer came", "r#{index}")],
        [at - 0.1, entry(at - 0.1, "cedar", "asking", "q#{index}")],
        [at + 0.2, entry(at + 0.2, "cedar", "answer came", "q#{index}")],
        [at, entry(at, "alder", "asked by cedar", "q#{index}")],
        [at + 0.1, entry(at + 0.1, "alder", "answering cedar", "q#{index}")]
      ]
    end
    set = START + (29.5 * 60)
    [
      *lines,
      [
        set,
        "<28>1 #{set.strftime('%Y-%m-%dT%H:%M:%S.%6NZ')} birch clockd 1 - - System clock was stepped by 250.0 seconds"
      ]
    ].sort_by(&:first).map(&:last)
  end

  def shifts(clocks)
    clocks
      .select { |clock| clock.offset_us.abs > 1_000_000 }
      .map { |clock| Store::TrueTime::Shift.new(clock.machine, clock.from_us, clock.to_us, -clock.offset_us) }
  end

  def test_the_offset_is_found_where_it_holds
    import_text("#{world.join("\n")}\n")
    clocks = Store::ClockSurvey.new(*Store::Span.all).count.rows
    birch = clocks.select { |clock| clock.machine == "birch" }.sort_by(&:from_us)
    assert_in_delta(-250_000_000, birch[0].offset_us, 100_000)
    assert_equal [-250_000_000, 30], [birch[0].told_us, birch[0].exchanges]
    assert_equal 0, birch[1].offset_us
    clocks.reject { |clock| clock.machine == "birch" }.each { |clock| assert_equal 0, clock.offset_us, clock.machine }
  end

  def test_a_log_that_tells_of_a_step_is_enough
    import_text("#{world.reject { |line| line.include?('request.id') && line.include?(' birch ') }.join("\n")}\n")
    birch = Store::ClockSurvey.new(*Store::Span.all).count.rows.first
    assert_equal ["birch", -250_000_000, nil, 0], [birch.machine, birch.offset_us, birch.error_us, birch.exchanges]
  end

  # Whatever the page size and direction, the pages together are all lines in the order in which they were written.
  def test_pages_in_true_order
    lines = world
    import_text("#{lines.join("\n")}\n")
    first, last = Store::Span.all
    true_time = Store::TrueTime.new(question, shifts(Store::ClockSurvey.new(first, last).count.rows))
    id = ->(line) { line[/request.id="(\w+)"/, 1] }
    [7, 1000].each do |limit|
      forward = []
      page = true_time.page(limit: limit)
      loop do
        forward += page.events
        break unless page.more_after

        page = true_time.page(after: page.events.last.id, limit: limit)
      end
      # A window of true time starts where the first true moment is, a little after the first stamp of a slow clock.
      assert_equal(lines.map(&id), forward.map { |event| id.call(event.raw) })
      assert_equal(forward.map { |event| true_time.of(event) }.sort, forward.map { |event| true_time.of(event) })
      backward = []
      page = true_time.page(last: true, limit: limit)
      loop do
        backward = page.events + backward
        break unless page.more_before

        page = true_time.page(before: page.events.first.id, limit: limit)
      end
      assert_equal forward.map(&:id), backward.map(&:id)
    end
    middle = true_time.page(around: question("birch r12").page.events.first.id, limit: 6).events
    assert_equal(%w[cedar alder alder birch birch alder].tally, middle.map(&:machine).tally)
  end
end
