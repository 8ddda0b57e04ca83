# frozen_string_literal: true

module Northdrift
  module Intake
    # Reads segments in processes of their own while this one writes, and hands the results out in the order of the
    # segments. Small imports are read here: a process would cost more than it saves.
    class Workers
      COUNT = 2
      # Segments that a process may have: one that it reads and one that waits, so that it need not wait itself.
      AHEAD = 2
      SMALL = 1 << 19
      LENGTH = "N"

      # A reading process ended before its work did.
      Lost = Class.new(Error)

      # One reading process, and who waits for its results.
      Worker = Struct.new(:pid, :input, :output, :callbacks)

      def initialize
        @workers = []
        @here = SegmentReader.new
        @under_way = []
        @turn = 0
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
        head = worker.output.read(4) or raise Lost, "a reading process ended unexpectedly; what was read before was kept"
        data = worker.output.read(head.unpack1(LENGTH))
        result = Marshal.load(data) # rubocop:disable Security/MarshalLoad -- our own process wrote it
        data.clear # several megabytes, which would stay until the next collection
        [result, worker, worker.callbacks.shift]
      end

      def send_to(io, message) = frame(io, Marshal.dump(message))
      def frame(io, data) = io.write([data.bytesize].pack(LENGTH), data)

      def take_in(input, tasks)
        while (head = input.read(4))
          tasks << input.read(head.unpack1(LENGTH))
        end
        tasks << nil
      end

      def send_out(results, output)
        while (data = results.pop)
          frame(output, data)
        end
      rescue Errno::EPIPE
        exit!(0) # nobody waits any more
      end

      def start
        COUNT.times do
          task_reader, task_writer = IO.pipe(binmode: true)
          result_reader, result_writer = IO.pipe(binmode: true)
          pid = fork do
            [task_writer, result_reader, *@workers.flat_map { |other| [other.input, other.output] }].each(&:close)
            work(task_reader, result_writer)
          end
          [task_reader, result_writer].each(&:close)
          @workers << Worker.new(pid, task_writer, result_reader, [])
        end
      end

      # Runs in the reading process, until the other end is closed. Threads of their own take tasks in and send results
      # out, so that neither pipe holds the reading up.
      def work(input, output)
        GC.disable
        reader = SegmentReader.new
        tasks = SizedQueue.new(AHEAD)
        results = SizedQueue.new(AHEAD)
        Thread.new { take_in(input, tasks) }
        sending = Thread.new { send_out(results, output) }
        while (task = tasks.pop)
          Collection.after { results << Marshal.dump(reader.read(Marshal.load(task))) } # rubocop:disable Security/MarshalLoad -- as above
        end
        results << nil
        sending.join
        exit!(0)
      rescue Errno::EPIPE
        exit!(0)
      rescue StandardError => error
        warn "northdrift: reading failed: #{error.full_message(highlight: false)}"
        exit!(1)
      end
    end
  end
end
