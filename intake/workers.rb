# frozen_string_literal: true

require "fileutils"
require "tmpdir"

module Northdrift
  module Intake
    # Reads segments in processes of their own while this one writes, and hands the results out in the order of the
    # segments. Small imports are read here: a process would cost more than it saves.
    class Workers
      COUNT = 2
      # Segments that a process may have, so that it need not wait while a transaction is written.
      AHEAD = 4
      SMALL = 1 << 19

      def initialize
        @workers = []
        @here = TaskReader.new
        @under_way = []
        @turn = 0
        @files = 0
      end

      # @param task [SegmentReader::Task] one that does not start anew goes to where the one before it went
      # @yieldparam result [SegmentReader::Result] later, in the order of the tasks
      # @yieldparam reader [Object] whose numbers the kinds go by
      def read(task, &callback)
        return yield(@here.read(task), @here) if here?(task)

        start if @workers.empty?
        @turn = (@turn + 1) % COUNT if task.start
        worker = @workers[@turn]
        # The process gets its next segment before the result of an earlier one is worked on here.
        ready = []
        ready << receive(@under_way.shift) while @under_way.count { |other, _| other.equal?(worker) } >= AHEAD
        @files += 1
        worker.give(ReadingProcess.put(File.join(@dir, @files.to_s), task))
        @under_way << [worker, callback]
        ready.each { |one| deliver(one) }
      end

      # Waits for what is under way.
      def settle
        deliver(receive(@under_way.shift)) until @under_way.empty?
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

      # A run of segments stays where it began.
      def here?(task)
        @run_here = task.bytes.bytesize <= SMALL && !task.goes_on && @under_way.empty? if task.start
        @run_here
      end

      def receive((worker, callback)) = [worker.receive, worker, callback]

      def deliver((result, worker, callback)) = callback.call(result, worker)

      def start
        @dir = Dir.mktmpdir("northdrift")
        COUNT.times { @workers << ReadingProcess.new(@workers.dup) }
      end
    end
  end
end
