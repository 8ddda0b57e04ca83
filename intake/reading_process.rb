# frozen_string_literal: true

module Northdrift
  module Intake
    # A process that reads while another one writes. Tasks and results travel as files, and only their names through
    # pipes: megabytes through a pipe would make each process wait, a few kilobytes at a time, until the other comes to
    # read.
    class ReadingProcess
      # It ended before its work did.
      Lost = Class.new(Error)
      LOST = "a reading process ended unexpectedly; what was read before was kept"

      # @param path [String]
      # @param message [Object] a task or a result
      # @return [String] path
      def self.put(path, message)
        File.binwrite(path, Marshal.dump(message))
        path
      end

      # @return [Object] what was put there; it is gone then
      def self.take(path)
        data = File.binread(path)
        File.unlink(path)
        Marshal.load(data).tap { data.clear } # rubocop:disable Security/MarshalLoad -- our own process wrote it
      end

      # @param patient [Boolean] whether it waits for room when the disk is full: what came over a network cannot be
      #   asked for again
      # @param others [Array<ReadingProcess>] that were started before: a child must not hold their pipes open
      def initialize(others = [], patient: false)
        task_reader, @input = IO.pipe
        @output, result_writer = IO.pipe
        [@input, result_writer].each { |pipe| pipe.sync = true }
        @pid = fork do
          [self, *others].each(&:close)
          work(task_reader, result_writer, patient)
        end
        [task_reader, result_writer].each(&:close)
      end

      # @return [Integer] its number with the system
      attr_reader :pid

      # @param path [String] of a task
      # @raise [Lost]
      def give(path)
        @input.puts(path)
      rescue Errno::EPIPE, IOError
        raise Lost, LOST
      end

      # @return [Object] the result of the oldest task that has not been received
      # @raise [Lost]
      def receive
        path = @output.gets(chomp: true) or raise Lost, LOST
        ReadingProcess.take(path)
      end

      def close = [@input, @output].each(&:close)

      # Ends it; what it is at is given up.
      def stop
        close
        Process.kill(:KILL, @pid)
        Process.wait(@pid)
      rescue SystemCallError
        nil
      end

      private

      def keep(path, result, patient)
        ReadingProcess.put(path, result)
      rescue Errno::ENOSPC
        raise unless patient

        sleep 1
        retry
      end

      # Runs until the other end is closed.
      def work(input, output, patient)
        GC.disable
        Process.setproctitle("northdrift: reading")
        reader = TaskReader.new
        while (path = input.gets(chomp: true))
          task = ReadingProcess.take(path)
          Collection.after(task.bytesize) { keep("#{path}-read", reader.read(task), patient) }
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
