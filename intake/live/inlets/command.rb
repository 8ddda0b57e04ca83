# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      module Inlets
        # Lines that a command writes, such as `journalctl -f -o export` or `ssh … cat`; it is started again when it
        # ends, after a wait that grows while it fails.
        class Command < Inlet
          CHUNK = 1 << 16
          WAITS = [1, 2, 5, 10, 30, 60].freeze
          # One that ran so long is taken to have been well.
          WELL_SECONDS = 60

          private

          def run
            failures = 0
            until @stopping
              started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
              status = command
              break if @stopping

              failures = Process.clock_gettime(Process::CLOCK_MONOTONIC) - started > WELL_SECONDS ? 1 : failures + 1
              wait = WAITS[[failures, WAITS.size].min - 1]
              @office.problem(@feed, "the command #{ended(status)}; it is started again after #{wait} s")
              (wait * 10).times { @stopping || sleep(0.1) }
            end
          end

          # @param status [Process::Status]
          def ended(status)
            how = status.signaled? ? "was ended by signal #{status.termsig}" : "ended with status #{status.exitstatus}"
            @said ? "#{how} (#{Text.display(@said)})" : how
          end

          # @return [Process::Status]
          def command
            output, writer = IO.pipe
            said, sayer = IO.pipe
            pid =
              Process.spawn("/bin/sh", "-c", @given["command"], in: File::NULL, out: writer, err: sayer, pgroup: true)
            @pid = pid
            [writer, sayer].each(&:close)
            @office.problem(@feed, nil)
            listener = Thread.new { said.each_line { |line| @said = line.strip[0, 200] } }
            listener.report_on_exception = false # it ends with the pipe
            read(output)
            Process.wait2(pid).last
          ensure
            [output, said].each { |io| io&.close unless io&.closed? }
            listener&.kill
          end

          def read(output)
            context = Reading::Context.new(clock: Reading::Clock.new(reference_us: Store::Clock.now_us))
            buffer = RecordBuffer.new(context)
            loop do
              chunk = output.read_nonblock(CHUNK, exception: false)
              break if chunk.nil?

              chunk == :wait_readable ? output.wait_readable(RecordBuffer::QUIET_SECONDS) : buffer.push(chunk)
              add(buffer.take)
            end
            add(buffer.take(ended: true))
          end

          def add(text) = text && @funnel.text(stream(@feed.name), text, patient: true)

          def close
            Process.kill(:TERM, -@pid) if @pid
          rescue SystemCallError
            nil
          end
        end
      end
    end
  end
end
