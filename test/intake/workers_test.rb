# frozen_string_literal: true

require_relative "../test_helper"

# Segments are read by other processes and come back in order, whole.
class WorkersTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  def setup = @workers = Intake::Workers.new
  def teardown = @workers.stop

  def lines(from, count)
    (from...(from + count))
      .map { |index| "#{(NOW - 90_000 + index).strftime('%b %e %T')} alder app: entry #{index} #{'x' * 40}\n" }
      .join
  end

  def task(text, offset: 0, start: true, goes_on: false)
    Intake::SegmentReader::Task.new(text.b, offset, start, goes_on, "UTC", micros(NOW), nil)
  end

  # A segment that is large enough to be handed over.
  def large(from) = lines(from, 9000)

  def bodies(result) = result.batch.bodies.map { |body| body[/entry \d+/] }

  def test_results_come_in_the_order_of_the_tasks
    found = []
    10.times { |index| @workers.read(task(large(index * 9000))) { |result, _| found.concat(bodies(result)) } }
    @workers.settle
    assert_equal (0...90_000).map { |index| "entry #{index}" }, found
  end

  def test_a_segment_that_goes_on_is_read_by_who_read_its_start
    text = large(0)
    cut = text.bytesize / 2 # within a line
    found = []
    @workers.read(task(text.byteslice(0, cut), goes_on: true)) { |result, _| found.concat(bodies(result)) }
    @workers.read(task(text.byteslice(cut, text.bytesize), offset: cut, start: false)) do |result, _|
      found.concat(bodies(result))
    end
    @workers.settle
    assert_equal (0...9000).map { |index| "entry #{index}" }, found
  end

  def test_what_is_small_is_read_here
    reader = nil
    @workers.read(task(lines(0, 10))) { |result, who| (reader = who) && assert_equal(10, result.batch.size) }
    assert_instance_of Intake::TaskReader, reader
  end

  def test_a_process_that_ends_is_told
    @workers.read(task(large(0))) { flunk "nothing can have come" }
    workers = @workers.instance_variable_get(:@workers)
    workers.each { |worker| Process.kill(:KILL, worker.pid) }
    assert_includes assert_raises(Intake::ReadingProcess::Lost) {
                      12.times { |index| @workers.read(task(large(index))) { nil } } && @workers.settle
                    }.message, "unexpectedly"
  end

  def test_nothing_is_left_behind
    @workers.read(task(large(0))) { nil }
    dir = @workers.instance_variable_get(:@dir)
    pids = @workers.instance_variable_get(:@workers).map(&:pid)
    assert_path_exists dir
    @workers.stop
    refute_path_exists dir
    pids.each { |pid| assert_raises(Errno::ESRCH) { Process.kill(0, pid) } }
  end
end
