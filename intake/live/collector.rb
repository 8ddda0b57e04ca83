# frozen_string_literal: true

require "fileutils"
require "securerandom"

module Northdrift
  module Intake
    module Live
      # The collecting process: takes what the receiver hands on, has it read by processes of their own, and writes it.
      # A bundle is acknowledged once its transaction is committed; whatever is killed at whatever moment, what was not
      # acknowledged was not written, or is known by its delivery or its place.
      class Collector
        # A transaction has what has been read meanwhile, up to so many bytes of text.
        TRANSACTION_BYTES = 3 << 20
        # Where little comes in, what comes within so long is written together.
        GATHER_SECONDS = 0.08
        # Where so many bundles wait, lines are late already, and few large transactions catch up sooner than many small
        # ones.
        BEHIND = 3
        SPOOL = "spool/live"
        AGAIN_SECONDS = 1
        FORGET_SECONDS = 3600
        # Who asks a question waits for it; who sends can wait: reading and writing give way when the processors are
        # wanted.
        NICENESS = 5
        # So long an orderly stop may take.
        WIND_UP_SECONDS = 10

        DAMAGED =
          "The database is damaged (%s), and nothing is written into it. Senders wait. Stop Northdrift, put a backup " \
          "of the data folder in its place, and start it again."

        # @!attribute bytes [Integer] of text
        # @!attribute process [ReadingProcess]
        UnderWay = Struct.new(:bytes, :process)
        # @!attribute read [BundleReader::Read]
        # @!attribute numbering [Object] whose numbers its kinds go by
        Ready = Struct.new(:bytes, :read, :numbering)

        # Has the number of the process that collects.
        RUNNING = "collector.pid"

        # @param dir [String] data folder
        # @return [Boolean] whether a collector works on it, as far as its own processes can be seen
        def self.running?(dir)
          pid = Integer(File.read(File.join(dir, RUNNING)), exception: false)
          !pid.nil? && Process.kill(0, pid) == 1
        rescue Errno::EPERM
          true # of another user
        rescue SystemCallError
          false
        end

        # @param dir [String] data folder
        def initialize(dir, clock: -> { Store::Clock.now_us })
          @dir = dir
          # A folder of its own: the receiver of a collector that was killed may live on for a moment.
          @spool = File.join(dir, SPOOL, SecureRandom.uuid)
          @clock = clock
          @notice = Notice.new(dir, :collector)
          @room = Room.new(dir)
        end

        # Runs until told to stop; what was received by then is written.
        # @param stop [#call]
        # @raise [ReadingProcess::Lost] when a reading or the receiving process is lost: it has to be started anew
        def run(stop: -> { false })
          @stop = stop
          prepare
          @notice.tell(nil)
          keeper = Keeper.new
          @forgotten = 0
          until stop.call
            forget
            (first = next_read(GATHER_SECONDS)) ? write(keeper, gathered(first)) : look_after
          end
          wind_up(keeper)
        ensure
          finish
        end

        private

        def prepare
          FileUtils.rm_rf(File.join(@dir, SPOOL))
          FileUtils.mkdir_p(@spool)
          start_receiver
          Process.setpriority(Process::PRIO_PROCESS, 0, NICENESS)
          @readers = []
          Notice::READERS.each { |name| start_reader(Notice.new(@dir, name)) }
          @under_way = Thread::Queue.new
          Store::Database.open(@dir)
          File.write(File.join(@dir, RUNNING), Process.pid)
          dispatch
        end

        def start_reader(notice)
          notice.tell(nil)
          @readers << ReadingProcess.new(trouble: notice.method(:unwritten)) { foreign }
        end

        def foreign = [@bundles, @settled, *@readers.flat_map(&:pipes)]

        # The receiver is forked before this process opens the database.
        def start_receiver
          @bundles, bundle_writer = IO.pipe
          settled_reader, @settled = IO.pipe
          [bundle_writer, @settled].each { |pipe| pipe.sync = true }
          parent = Process.pid
          @receiver = fork do
            [@bundles, @settled].each(&:close)
            receive(bundle_writer, settled_reader, parent)
          end
          [bundle_writer, settled_reader].each(&:close)
        end

        def receive(bundles, settled, parent)
          Process.setproctitle("northdrift: receiving")
          allow_many_files
          stopping = false
          %w[TERM INT].each { |signal| trap(signal) { stopping = true } }
          Store::Database.open(@dir)
          Receiver.new(@dir, @spool, bundles, settled).run(stop: -> { stopping || Process.ppid != parent })
          exit!(0)
        rescue StandardError => error
          warn "northdrift: receiving failed: #{error.message.lines.first.to_s.strip}"
          exit!(1)
        end

        # Followed files stay open, and so do connections: as many as the system allows, which is far more than it gives
        # unasked.
        def allow_many_files
          Process.setrlimit(Process::RLIMIT_NOFILE, Process.getrlimit(Process::RLIMIT_NOFILE).last)
        rescue SystemCallError
          nil
        end

        # Gives each bundle to a reading process, in turn.
        def dispatch
          @dispatcher = Thread.new do
            turn = 0
            while (line = @bundles.gets(chomp: true))
              bytes, path = line.split(" ", 2)
              process = @readers[(turn += 1) % @readers.size]
              process.give(path)
              @under_way << UnderWay.new(bytes.to_i, process)
            end
          rescue ReadingProcess::Lost
            nil
          end
        end

        # @return [Ready, nil] the next bundle, read; nil when none comes in time
        def next_read(seconds)
          ends = now + seconds
          while @under_way.empty?
            return if now > ends

            sleep 0.005
          end
          one = @under_way.pop
          read = one.process.receive
          Ready.new(one.bytes, read, one.process.numbering)
        end

        # @return [Array<Ready>] what has been read by now, or soon will be
        def gathered(first)
          all = [first]
          bytes = first.bytes
          ends = now + GATHER_SECONDS
          while bytes < TRANSACTION_BYTES && (now < ends || @under_way.size >= BEHIND) &&
                (one = next_read(bytes > TRANSACTION_BYTES / 4 ? 0 : [ends - now, 0].max))
            all << one
            bytes += one.bytes
          end
          all
        end

        # The receiver ends first; what it had taken in by then is written.
        def wind_up(keeper)
          ends = now + WIND_UP_SECONDS
          Process.kill(:TERM, @receiver)
          while now < ends && (@dispatcher.alive? || !@under_way.empty?)
            first = next_read(GATHER_SECONDS)
            write(keeper, gathered(first)) if first
          end
        rescue Errno::ESRCH
          nil
        end

        # Who waited for an answer may be gone when this process winds up.
        def acknowledge(count)
          count.times { @settled.puts("written") }
        rescue Errno::EPIPE
          raise ReadingProcess::Lost, "the receiving process is gone" unless @stop.call
        end

        # What cannot be written is tried again until it can: senders wait, and nothing is thrown away.
        def write(keeper, all)
          @room.check
          Collection.after(all.sum(&:bytes)) { keeper.write(all) }
          acknowledge(all.size)
          @notice.tell(@room.scarce)
          @room.pause if @room.scarce
        rescue ReadingProcess::Lost
          raise
        rescue StandardError => error
          wait_after(error)
          retry
        end

        def wait_after(error)
          damage = Store::Sieve.damage?(error)
          if damage
            @notice.tell(format(DAMAGED, error.message.lines.first.to_s.strip))
          else
            @notice.unwritten(error.message)
          end
          # Writing into a damaged database would make it worse.
          sleep AGAIN_SECONDS until @stop.call || !damage
          raise ReadingProcess::Lost, "it is stopped while nothing can be written" if @stop.call

          sleep AGAIN_SECONDS
        end

        # What was told while there was little room goes when there is room again, not only with the next line.
        def look_after
          @notice.tell(@room.scarce)
          return if @dispatcher.alive? && Process.wait(@receiver, Process::WNOHANG).nil?

          raise ReadingProcess::Lost, "the receiving process ended"
        end

        def forget
          return if now - @forgotten < FORGET_SECONDS

          @forgotten = now
          Store::Arrivals.forget(@clock.call)
        end

        def finish
          FileUtils.rm_f(File.join(@dir, RUNNING))
          Process.kill(:TERM, @receiver) if @receiver
          @readers&.each(&:stop)
        rescue SystemCallError
          nil
        end

        def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      end
    end
  end
end
