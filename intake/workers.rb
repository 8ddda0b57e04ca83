# frozen_string_literal: true

require "fileutils"
require "tmpdir"

module Northdrift
  module Intake
    # Reads segments in processes of their own while this one writes, and hands the results out in the order of the
    # segments. Small imports are read here: a process would cost more than it saves.
    #
    # Tasks and results travel as files, and only their names through pipes: megabytes through a pipe would make each
    # process wait, a few kilobytes at a time, until the other comes to read.
    class Workers
      COUNT = 2
      # Segments that a process may have, so that it need not wait while a transaction is written.
      AHEAD = 4
      SMALL = 1 << 19

      # A reading process ended before its work did.
      Lost = Class.new(Error)
      LOST = "a reading process ended unexpectedly; what was read before was kept"

      # One reading process, and who waits for its results.
      Worker = Struct.new(:pid, :input, :output, :callbacks)

      def initialize
        @workers = []
        @here = SegmentReader.new
        @under_way = []
        @turn = 0
        @files = 0
      end

      # @param task [SegmentReader::Task] one that does not start anew goes to where the one before it went
      # @yieldparam result [SegmentReader::Result] later, in the order of the tasks
      # @yieldparam reader [Object] whose numbers the kinds go by
      def read(task, &callback)
        return callback.call(@here.read(task), @here) if here?(task)

        start if @workers.empty?
        @turn = (@turn + 1) % COUNT if task.start
        worker = @workers[@turn]
        # The process gets its next segment before the result of an earlier one is worked on here.
        ready = []
        ready << receive(@under_way.shift) while @under_way.count { |other| other.equal?(worker) } >= AHEAD
        worker.callbacks << callback
        send_to(worker.input, task)
        @under_way << worker
        ready.each { |one| deliver(one) }
      end

      # Waits for what is under way.
      def settle
        deliver(receive(@under_way.shift)) until @under_way.empty?
      end

      # Ends the processes; what is under way is given up.
      def stop
        @workers.each do |worker|
          [worker.input, worker.output].each(&:close)
          Process.kill(:KILL, worker.pid)
          Process.wait(worker.pid)
        rescue SystemCallError
          nil
        end
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

      def deliver(ready)
        result, worker, callback = ready
        callback.call(result, worker)
      end

      def receive(worker)
        path = worker.output.gets(chomp: true) or raise Lost, LOST
        [take(path), worker, worker.callbacks.shift]
      end

      def send_to(pipe, message)
        @files += 1
        pipe.puts(put(File.join(@dir, @files.to_s), message))
      rescue Errno::EPIPE
        raise Lost, LOST
      end

      def put(path, message)
        File.binwrite(path, Marshal.dump(message))
        path
      end

      def take(path)
        data = File.binread(path)
        File.unlink(path)
        Marshal.load(data).tap { data.clear } # rubocop:disable Security/MarshalLoad -- our own process wrote it
      end

      def start
        @dir = Dir.mktmpdir("northdrift")
        COUNT.times do
          task_reader, task_writer = IO.pipe
          result_reader, result_writer = IO.pipe
          [task_writer, result_writer].each { |pipe| pipe.sync = true }
          pid = fork do
            [task_writer, result_reader, *@workers.flat_map { |other| [other.input, other.output] }].each(&:close)
            work(task_reader, result_writer)
          end
          [task_reader, result_writer].each(&:close)
          @workers << Worker.new(pid, task_writer, result_reader, [])
        end
      end

      # Runs in the reading process, until the other end is closed.
      def work(input, output)
        GC.disable
        reader = SegmentReader.new
        while (path = input.gets(chomp: true))
          Collection.after { put("#{path}-read", reader.read(take(path))) }
          output.puts("#{path}-read")
        end
        exit!(0)
      rescue Errno::EPIPE, Errno::ENOENT
        exit!(0) # nobody waits any more
      rescue StandardError => error
        warn "northdrift: reading failed: #{error.message.lines.first.to_s.strip}"
        exit!(1)
      end
    end
  end
end
