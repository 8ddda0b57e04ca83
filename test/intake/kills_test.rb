# frozen_string_literal: true

require_relative "../test_helper"

# Killed at random moments, the collector loses no line that was acknowledged and doubles none. Each sender has a list
# of its own to compare with. KILLS=50 makes it as many moments, KILLS_SEED plays some of before again.
class KillsTest < Northdrift::StoreTest
  include Northdrift
  include Collecting

  KILLS = Integer(ENV.fetch("KILLS") { Chance::FULL ? "50" : "4" })
  SEED = Integer(ENV.fetch("KILLS_SEED") { Random.new_seed % 1_000_000 })
  TOKEN = "sesame-sesame-sesame"
  BATCH = 40
  # Seconds within which all of it has to be over.
  NIGHT = (KILLS * 10) + (Waiting::DEADLINE * 2)
  NAMES = ["northdrift: collecting (test)", "northdrift: receiving", "northdrift: reading"].freeze

  def teardown
    stop_collecting
    super
  end

  def line(kind, number)
    clock = format("%02d:%02d.%06d", number / 60_000 % 60, number / 1000 % 60, number % 1000)
    "<13>1 2026-11-23T10:#{clock}Z #{kind} app 7 - - #{kind} entry #{number}"
  end

  # @return [Array<Integer>] numbers of a kind that are in the database
  def there(kind)
    Store::Database
      .rows("SELECT body FROM events WHERE kind_id IN (SELECT id FROM kinds WHERE machine = ?)", [kind])
      .map { |(body)| body[/entry (\d+)/, 1].to_i }
      .sort
  end

  def in_thread(&block) = Thread.new(&block).tap { |thread| thread.report_on_exception = true }

  # A delivery keeps its name until it is acknowledged.
  def http_sender(port)
    in_thread do
      sent = 0
      meanwhile(-> { @over }, "sending by HTTP", seconds: NIGHT) do
        lines = (sent...(sent + BATCH)).map { |number| line("http", number) }.join("\n")
        headers = {
          "authorization" => "Bearer #{TOKEN}", "content-type" => "application/x-ndjson",
          "idempotency-key" => "d#{sent}"
        }
        begin
          answer = Net::HTTP.post(URI("http://127.0.0.1:#{port}/lines"), lines, headers)
          raise IOError, answer.body unless answer.code == "200"

          sent += BATCH
        rescue SystemCallError, IOError, Timeout::Error
          # Also when it is over: what had no answer may be there or not.
          raise if monotonic > @latest

          sleep 0.1
          retry
        end
      end
      @acknowledged = sent
    end
  end

  # The protocol has no acknowledgement: after each break the sender looks up what has arrived, and goes on behind it.
  def tcp_sender(port)
    in_thread do
      sent = 0
      socket = nil
      meanwhile(-> { @over && there("tcp").size == sent }, "sending by TCP", seconds: NIGHT) do
        socket ||= TCPSocket.new("127.0.0.1", port).tap { sent = there("tcp").size }
        socket.write((sent...(sent + BATCH)).map { |number| "#{line('tcp', number)}\n" }.join)
        sent += BATCH
        await(socket, sent)
      rescue SystemCallError, IOError
        socket&.close
        socket = nil
        sleep 0.1
      end
      @sent_by_tcp = sent
    end
  end

  # Until it is there, or the connection is broken, whatever that takes.
  def await(socket, count)
    meanwhile(-> { there("tcp").size >= count }, "waiting for what was sent by TCP") do
      raise EOFError if socket.read_nonblock(1, exception: false).nil?

      sleep 0.02
    end
  end

  # Written and rotated by renaming, as rotation programs do. Without a buffer: the importer is a copy of this process,
  # and would write what it found in one a second time.
  def writer(folder)
    in_thread do
      number = 0
      meanwhile(-> { @over }, "writing", seconds: NIGHT) do
        lines = (number...(number + BATCH)).map { |at| "#{line('file', at)}\n" }.join
        File.open(File.join(folder, "app.log"), "a") { |file| file.syswrite(lines) }
        number += BATCH
        if (number % (BATCH * 20)).zero?
          File.rename(File.join(folder, "app.log"), File.join(folder, "app.log.#{number}"))
        end
        sleep 0.05
      end
      @written = number
    end
  end

  def importer(path)
    in_thread do
      whole = false
      meanwhile(-> { whole }, "importing", seconds: NIGHT) do
        pid = fork { import_once(path) }
        sleep rand * 1.5
        Process.kill(:KILL, pid) unless @over
        whole = Process.wait2(pid).last.success?
      end
    end
  end

  def import_once(path)
    Store::Database.open(@data)
    Intake::Importer.new.import(Intake::Parts.new([path]))
    exit!(0)
  end

  def test_nothing_is_lost_and_nothing_doubled
    folder = File.join(@dir, "logs")
    FileUtils.mkdir_p(folder)
    tcp, http = Array.new(2) { free_port }
    feed("tcp", port: tcp)
    feed("http", port: http, token: TOKEN)
    feed("follow", paths: File.join(folder, "app.log*"), machine: "file")
    path = write("import.log", (0...20_000).map { |number| "#{line('import', number)}\n" }.join)
    collect
    listening(tcp)
    threads = [http_sender(http), tcp_sender(tcp), writer(folder), importer(path)]
    random = Random.new(SEED)
    @latest = monotonic + NIGHT
    KILLS.times do
      sleep 0.5 + (random.rand * 3)
      name, pids = processes.slice(*NAMES).to_a.sample(random: random)
      Process.kill(:KILL, pids.sample(random: random)) if name
    rescue Errno::ESRCH
      next
    end
    @over = true
    threads.each(&:join)
    import(path)
    eventually { there("file").size >= @written }
    { "http" => @acknowledged, "tcp" => @sent_by_tcp, "file" => @written, "import" => 20_000 }.each do |kind, count|
      assert_equal [*0...count], there(kind), "#{kind}; KILLS_SEED=#{SEED}"
    end
    assert_equal "ok", Store::Database.value("PRAGMA integrity_check")
    assert_equal there("tcp").size, question("tcp entry").total
    puts "#{KILLS} kills; lines by HTTP #{@acknowledged}, by TCP #{@sent_by_tcp}, by file #{@written}" if KILLS > 4
  end
end
