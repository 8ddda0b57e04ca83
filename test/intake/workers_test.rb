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

  def test_what_is_small_needs_one_process
    @workers.read(task(lines(0, 10))) { |result, _| assert_equal(10, result.batch.size) }
    @workers.settle
    assert_equal 1, @workers.instance_variable_get(:@workers).size
  end

  def kill_all(signal = :KILL)
    @workers.instance_variable_get(:@workers).each { |worker| Process.kill(signal, worker.pid) }
  end

  # By whoever, or since its time ran out: that may be for a pause of a virtual machine, which was counted for it.
  %i[KILL XCPU].each do |signal|
    define_method("test_a_process_that_is_ended_by_#{signal.downcase}_has_a_successor") do
      found = []
      _, told = capture_io do
        12.times do |index|
          @workers.read(task(large(index * 9000))) { |result, _| found.concat(bodies(result)) }
          kill_all(signal) if index == 5
        end
        @workers.settle
      end
      assert_match(/another one reads on$/, told)
      refute_match(/line by line/, told)
      assert_equal (0...108_000).map { |index| "entry #{index}" }, found
    end
  end

  def test_a_run_that_lost_its_process_goes_on_where_it_was
    text = large(0)
    cuts = [0, 20_011, 40_017, 300_001, text.bytesize]
    found = []
    numbers = []
    assert_output(nil, /another one reads on$/) do
      cuts.each_cons(2).with_index do |(from, to), index|
        last = to == text.bytesize
        @workers.read(
          task(text.byteslice(from, to - from), offset: from, start: from.zero?, goes_on: !last)
        ) do |result, _|
          found.concat(bodies(result))
          numbers.concat(result.batch.lines)
        end
        @workers.settle
        kill_all if index == 1
      end
    end
    assert_equal (0...9000).map { |index| "entry #{index}" }, found
    assert_equal (1..9000).to_a, numbers
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
