# frozen_string_literal: true

require "fileutils"

module Northdrift
  module Intake
    # A process that reads while another one writes. Tasks and results travel as files, and only their names through
    # pipes: megabytes through a pipe would make each process wait, a few kilobytes at a time, until the other comes to
    # read.
    #
    # Who reads what strangers wrote may take for ever, or fail. So it has a budget of processor time for each task, and
    # when it ends before its task does, another takes its place: it gets the task again, to be read line by line.
    class ReadingProcess
      # It ended before its work did.
      Lost = Class.new(Error)
      LOST = "a reading process ended unexpectedly; what was read before was kept"
      # It ended for what it was given to read.
      FAILED = 2
      # Seconds of processor time for a task, and for each MiB of it: many times what ordinary lines take.
      SECONDS = 15
      SECONDS_EACH = 3
      # What cannot be written is tried again after so long.
      AGAIN_SECONDS = 1
      # Lines at fault in one task: when there are more, all of it is kept as it came.
      MOST_FAULTS = 4

      # A task that it has.
      # @!attribute path [String]
      # @!attribute losses [Integer] processes that did not come to its end
      # @!attribute faults [Array<Integer>, String, nil] see {Caution}; nil while it is read as others are
      Given =
        Struct.new(:path, :losses, :faults) do
          def order
            return path unless faults

            "#{path}\t#{faults == Caution::ALL ? faults : faults.join(',')}"
          end

          # A process that was killed from outside, or whose time ran out, is not the task's fault the first time: where
          # a virtual machine was paused, that may be counted as its time. Line by line, rows of a table are no rows.
          # @param status [Process::Status]
          # @return [Boolean] whether it is to be given again
          def lost(status)
            return false unless status.signaled? || status.exitstatus == FAILED
            return false if faults == Caution::ALL

            self.losses += 1
            if faults then blame
            elsif losses > 1 || status.exitstatus == FAILED then self.faults = []
            end
            true
          end

          private

          def blame
            fault = Caution.fault(path)
            self.faults = fault.nil? || faults.size >= MOST_FAULTS ? Caution::ALL : faults | [fault]
          end
        end

      # @param path [String]
      # @param message [Object] a task or a result
      # @return [String] path
      def self.put(path, message)
        File.binwrite(path, Marshal.dump(message))
        path
      end

      # @return [Object] what was put there
      def self.look(path)
        data = File.binread(path)
        Marshal.load(data).tap { data.clear } # rubocop:disable Security/MarshalLoad -- our own process wrote it
      end

      # @return [Object] what was put there; it is gone then
      def self.take(path) = look(path).tap { File.unlink(path) }

      # @return [Object] whose numbers the kinds and templates of the last result go by
      attr_reader :numbering

      # @param trouble [#call, nil] told why a result cannot be written, and nil once it can be: it waits until then,
      #   since what came over a network cannot be asked for again. Without it, the process ends
      # @param again [#call] gets a task that was lost, and gives what is to be read in its place
      # @yieldreturn [Array<IO>] what other processes have open: it must not hold that
      def initialize(trouble: nil, again: ->(task) { task }, &foreign)
        @trouble = trouble
        @again = again
        @foreign = foreign
        @given = []
        @lock = Mutex.new
        start
      end

      # @return [Integer] its number with the system
      attr_reader :pid

      # @param path [String] of a task
      # @raise [Lost] when it was stopped
      def give(path)
        @lock.synchronize do
          @given << Given.new(path, 0, nil)
          @input.puts(path)
        end
      rescue Errno::EPIPE
        nil # who waits for the result starts another, which gets it
      rescue IOError
        raise Lost, LOST
      end

      # @return [Object] the result of the oldest task that has not been received
      # @raise [Lost]
      def receive
        replace until (path = @output.gets(chomp: true))
        given = @given.shift
        FileUtils.rm_f([given.path, Caution.notes(given.path)])
        ReadingProcess.take(path)
      end

      # @return [Array<IO>] its ends of the pipes
      def pipes = [@input, @output]

      # Ends it; what it is at is given up.
      def stop
        pipes.each(&:close)
        Process.kill(:KILL, @pid)
        Process.wait(@pid)
      rescue SystemCallError
        nil
      end

      private

      def start
        task_reader, @input = IO.pipe
        @output, result_writer = IO.pipe
        [@input, result_writer].each { |pipe| pipe.sync = true }
        @numbering = Object.new
        @pid = fork do
          [*pipes, *@foreign&.call].each(&:close)
          work(task_reader, result_writer)
        end
        [task_reader, result_writer].each(&:close)
      end

      # Starts another one, which gets what this one had.
      def replace
        status = Process.wait2(@pid).last
        first = @given.first
        raise Lost, LOST unless first&.lost(status)

        warn "northdrift: a reading process ended; another one reads on#{' line by line' if first.faults}"
        ReadingProcess.put(first.path, @again.call(ReadingProcess.look(first.path)))
        @lock.synchronize do
          pipes.each(&:close)
          start
          @given.each { |given| @input.puts(given.order) }
        end
      rescue Errno::ECHILD
        raise Lost, LOST
      end

      # Runs until the other end is closed.
      def work(input, output)
        GC.disable
        Process.setproctitle("northdrift: reading")
        # Who gives it work tells it when to end.
        %w[INT TERM].each { |signal| trap(signal, "IGNORE") }
        reader = TaskReader.new
        while (order = input.gets(chomp: true))
          output.puts(read(reader, *order.split("\t", -1)))
        end
        exit!(0)
      rescue Errno::EPIPE, Errno::ENOENT
        exit!(0) # nobody waits any more
      rescue StandardError, *Caution::ENDS => error
        warn "northdrift: reading failed: #{error.message.lines.first.to_s.strip}"
        exit!(error.is_a?(SystemCallError) ? 1 : FAILED)
      end

      # @param faults [String, nil] numbers of lines at fault, see {Given#order}
      # @return [String] path of the result
      def read(reader, path, faults = nil)
        task = ReadingProcess.look(path)
        caution = faults && Caution.new(path, faults == Caution::ALL ? faults : faults.split(",").map(&:to_i))
        ProcessorTime.allow(SECONDS + (SECONDS_EACH * task.bytesize.fdiv(1 << 20)))
        Collection.after(task.bytesize) do
          result = reader.read(task, caution)
          caution&.rest
          keep("#{path}-read", result)
        end
      ensure
        caution&.close
      end

      def keep(path, result)
        ReadingProcess.put(path, result)
        @trouble&.call(nil)
        path
      rescue Errno::ENOENT
        raise # the folder goes with who waits
      rescue SystemCallError => error
        raise unless @trouble

        @trouble.call(error.message)
        sleep AGAIN_SECONDS
        retry
      end
    end
  end
end
