# frozen_string_literal: true

require "fileutils"
require "tmpdir"

module Northdrift
  module Intake
    # Reads segments in processes of their own while this one writes, and hands the results out in the order of the
    # segments.
    class Workers
      COUNT = 2
      # Segments that a process may have, so that it need not wait while a transaction is written.
      AHEAD = 4

      # A task that a process has.
      UnderWay = Struct.new(:worker, :task, :callback)

      def initialize
        @workers = []
        @under_way = []
        @turn = -1
        @files = 0
        @tails = {}.compare_by_identity
      end

      # @param task [SegmentReader::Task] one that does not start anew goes to where the one before it went
      # @yieldparam result [SegmentReader::Result] later, in the order of the tasks
      # @yieldparam numbering [Object] whose numbers the kinds go by
      def read(task, &callback)
        @turn = (@turn + 1) % COUNT if task.start
        worker = @workers[@turn] ||= start
        # The process gets its next segment before the result of an earlier one is worked on here.
        ready = []
        ready << receive(@under_way.shift) while @under_way.count { |other| other.worker.equal?(worker) } >= AHEAD
        @files += 1
        worker.give(ReadingProcess.put(File.join(@dir, @files.to_s), task))
        @under_way << UnderWay.new(worker, task, callback)
        ready.each(&:call)
      end

      # Waits for what is under way.
      def settle
        receive(@under_way.shift).call until @under_way.empty?
      end

      # Ends the processes; what is under way is given up.
      def stop
        @workers.each(&:stop)
        @workers = []
        @under_way = []
        FileUtils.rm_rf(@dir) if @dir
        @dir = nil
      end

      private

      # @return [Proc] tells who waits for it
      def receive(one)
        result = one.worker.receive
        numbering = one.worker.numbering
        leave_tail(one, result)
        -> { one.callback.call(result, numbering) }
      end

      # What of a run is in no event yet is known to the process that reads it; when that is lost, the next one needs
      # it.
      def leave_tail(one, result)
        before = @tails.delete(one.worker)
        return unless one.task.goes_on

        task = before && !one.task.start ? behind(before, one.task) : one.task
        tail = task.dup
        tail.bytes = task.bytes.byteslice(result.settled - task.offset, task.bytes.bytesize)
        tail.offset = result.settled
        tail.lines_before = result.lines
        @tails[one.worker] = tail
      end

      # @param tail [SegmentReader::Task] what was left of those before
      # @param task [SegmentReader::Task] one that follows on
      # @return [SegmentReader::Task] both together, which starts anew
      def behind(tail, task)
        task.dup.tap do |whole|
          whole.bytes = tail.bytes + task.bytes
          whole.offset = tail.offset
          whole.lines_before = tail.lines_before
          whole.start = true
        end
      end

      def start
        @dir ||= Dir.mktmpdir("northdrift")
        worker = nil
        again = ->(task) { task.start || @tails[worker].nil? ? task : behind(@tails[worker], task) }
        worker = ReadingProcess.new(again: again) { @workers.flat_map(&:pipes) }
      end
    end
  end
end
