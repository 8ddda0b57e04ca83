# frozen_string_literal: true

module Northdrift
  module Intake
    # Runs work that produces messages in a process of its own, so that one core reads while another writes. A pipe
    # between them bounds what is under way.
    module Fork
      LENGTH = "N"

      # The child process ended before its work did.
      Lost = Class.new(Error)

      module_function

      # @param work [#call] takes a block to call with each message; knows nothing of the database
      # @yieldparam message [Object] in this process
      # @raise [Lost]
      def run(work, &block)
        reader, writer = IO.pipe(binmode: true)
        pid = fork { child(work, reader, writer) }
        writer.close
        finished = false
        finished = receive(reader, &block)
        raise Lost, "the reading process ended unexpectedly; what it had read was kept" unless finished
      ensure
        reader&.close
        stop(pid, finished) if pid
      end

      def child(work, reader, writer)
        reader.close
        GC.disable
        work.call(->(message) { Collection.after { send_message(writer, message) } })
        send_message(writer, :end)
        writer.close
        exit!(0)
      rescue Errno::EPIPE
        exit!(1)
      rescue StandardError => error
        warn "northdrift: reading failed: #{error.full_message(highlight: false)}"
        exit!(1)
      end
      private_class_method :child

      def send_message(writer, message)
        data = Marshal.dump(message)
        writer.write([data.bytesize].pack(LENGTH), data)
      end
      private_class_method :send_message

      def receive(reader)
        while (head = reader.read(4))
          message = Marshal.load(reader.read(head.unpack1(LENGTH))) # rubocop:disable Security/MarshalLoad -- our own child wrote it
          return true if message == :end

          yield message
        end
        false
      end
      private_class_method :receive

      def stop(pid, finished)
        Process.kill(:KILL, pid) unless finished
        Process.wait(pid)
      rescue Errno::ESRCH, Errno::ECHILD
        nil
      end
      private_class_method :stop
    end
  end
end
