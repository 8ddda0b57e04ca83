# frozen_string_literal: true

require_relative "../test_helper"

# Killed at every step between a line's coming and its place in the database, the processes lose no line that was
# acknowledged and double none. A step is the call of a method of what collects, reads and writes; which there are is
# found by running it. In ordinary runs some of them are tried, in bin/test --full all.
class StepsTest < Northdrift::StoreTest
  include Northdrift
  include Collecting

  TOKEN = "sesame-sesame-sesame"
  BATCH = 20
  STEPS = %r{/(?:intake/(?:live/|reading_process|task_reader|caution)|store/writing/)}
  TRIED = 3
  # Called when a process starts or ends alone: a test of its own is needed to come there again and again.
  RARE_SECONDS = 3

  def setup
    super
    @known, @target = %w[known target].map { |name| File.join(@dir, name) }
    @folder = File.join(@dir, "logs")
    FileUtils.mkdir_p(@folder)
    @sent = @written = 0
  end

  def teardown
    stop_collecting
    @trace&.disable
    super
  end

  # In all processes that are started from now on: they tell which steps there are, and one of them ends at the target.
  def trace
    known = Hash.new { |all, process| all[process] = Set.new }
    test = Process.pid
    @trace = TracePoint.new(:call) do |point|
      next if Process.pid == test || !STEPS.match?(point.path)

      step = "#{File.basename(point.path, '.rb')}##{point.method_id}"
      File.write(@known, "#{step}\n", mode: "a") if known[Process.pid].add?(step)
      end_here if File.exist?(@target) && File.read(@target) == step
    end
    @trace.enable
  end

  # One process alone: the next one that comes there goes on.
  def end_here
    File.rename(@target, "#{@target}.met")
    Process.kill(:KILL, Process.pid)
  rescue Errno::ENOENT
    nil
  end

  def line(kind, number) = "<13>1 2026-11-23T10:00:00.#{format('%06d', number)}Z #{kind} app 7 - - entry #{number}"

  def there(kind)
    Store::Database
      .rows("SELECT body FROM events WHERE kind_id IN (SELECT id FROM kinds WHERE machine = ?)", [kind])
      .map { |(body)| body[/entry (\d+)/, 1].to_i }
      .sort
  end

  # The same delivery until it is acknowledged.
  def post
    lines = (@sent...(@sent + BATCH)).map { |number| line("http", number) }.join("\n")
    headers = {
      "authorization" => "Bearer #{TOKEN}", "content-type" => "application/x-ndjson", "idempotency-key" => "d#{@sent}"
    }
    eventually("an acknowledgement") do
      Net::HTTP.post(URI("http://127.0.0.1:#{@port}/lines"), lines, headers).code == "200"
    rescue SystemCallError, IOError
      nil
    end
    @sent += BATCH
  end

  def append
    File.open(File.join(@folder, "app.log"), "a") do |file|
      BATCH.times { |number| file.puts(line("file", @written + number)) }
    end
    @written += BATCH
  end

  def deliver
    append
    post
    eventually("all lines") { there("http").size >= @sent && there("file").size >= @written }
  end

  def test_a_kill_at_every_step
    @port = free_port
    feed("http", port: @port, token: TOKEN)
    feed("follow", paths: "#{@folder}/*.log")
    trace
    capture_io { collect }
    listening(@port)
    3.times { deliver }
    random = seeded(Random.new_seed % 1_000_000)
    steps = File.readlines(@known, chomp: true).uniq.sort
    met = steps.sample(often(TRIED, steps.size), random: random).select { |step| killed_at?(step) }
    assert_equal [[*0...@sent], [*0...@written]], [there("http"), there("file")], "killed at #{met}"
    assert_equal "ok", Store::Database.value("PRAGMA integrity_check")
    assert_operator met.size, :>, 0
    puts "killed at #{met.size} of #{steps.size} steps" if Chance::FULL
  end

  # @return [Boolean] whether a process came to the step
  def killed_at?(step)
    File.write(@target, step)
    deadline = monotonic + RARE_SECONDS
    deliver until File.exist?("#{@target}.met") || monotonic > deadline
    FileUtils.rm_f(@target)
    return false unless File.exist?("#{@target}.met")

    File.unlink("#{@target}.met")
    deliver
    true
  end
end
