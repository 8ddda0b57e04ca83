# frozen_string_literal: true

require "minitest/mock"
require "sqlite3"
require_relative "../test_helper"

# A write fails for a while at each place between the processes: what is acknowledged afterwards is there once, in its
# order, and the fault is told while it lasts.
class WriteFaultsTest < Northdrift::StoreTest
  include Northdrift
  include Northdrift::Collecting

  TOKEN = "sesame-sesame-sesame"
  # Where a write fails, and which process it is that writes there. Errors are those of a full quota, a disk that fails
  # and one that has become read-only.
  PLACES = {
    "a bundle of the receiver" => ["northdrift: receiving", Errno::EDQUOT.new],
    "a result of a reader" => ["northdrift: reading", Errno::EIO.new],
    "the database by the collector" => ["northdrift: collecting", SQLite3::ReadOnlyException.new("read-only")]
  }.freeze

  def setup
    super
    @flag = write("fault", "")
    @told = File.join(@dir, "told")
  end

  def teardown
    stop_collecting
    super
  end

  # @return [Proc] a method of before, that fails in one process while the flag is there
  def faulty(method, name, error)
    flag = @flag
    told = @told
    lambda do |*given|
      if File.exist?(flag) && File.read("/proc/self/cmdline").delete("\0").start_with?(name)
        File.write(told, name)
        raise error
      end
      method.call(*given)
    end
  end

  def collect_with_a_fault(name, error)
    transaction = ActiveRecord::Base.method(:transaction)
    transact = lambda do |*given, **options, &block|
      faulty(->(*) {}, name, error).call if name == "northdrift: collecting"
      transaction.call(*given, **options, &block)
    end
    Intake::ReadingProcess.stub(:put, faulty(Intake::ReadingProcess.method(:put), name, error)) do
      ActiveRecord::Base.stub(:transaction, transact) { capture_io { collect } }
    end
  end

  def post(port, number)
    headers = {
      "authorization" => "Bearer #{TOKEN}", "content-type" => "application/x-ndjson", "idempotency-key" => number.to_s
    }
    body = (0..9).map { |n| "entry #{number} #{n}" }.join("\n")
    Net::HTTP.post(URI("http://127.0.0.1:#{port}/lines"), body, headers).code
  end

  PLACES.each do |place, (name, error)|
    define_method(:"test_#{place.tr(' ', '_')}") do
      http, tcp = Array.new(2) { free_port }
      feed("http", port: http, token: TOKEN)
      feed("tcp", port: tcp)
      folder = File.join(@dir, "in")
      feed("follow", paths: "#{folder}/*.log")
      collect_with_a_fault(name, error)
      [http, tcp].each { |port| listening(port) }
      answers = (1..3).map { |number| Thread.new { post(http, number) } }
      TCPSocket.open("127.0.0.1", tcp) { |socket| 10.times { |n| socket.puts("entry tcp #{n}") } }
      write("in/app.log", (0..9).map { |n| "entry file #{n}\n" }.join)
      eventually("the fault") { File.exist?(@told) }
      sleep 0.5
      assert_empty found, "nothing can be written yet"
      File.unlink(@flag)
      assert_equal %w[200 200 200], answers.map(&:value)
      lines = come(50)
      assert_equal 50, lines.uniq.size
      [/entry file/, /entry tcp/].each do |kind|
        assert_equal((0..9).to_a, lines.grep(kind).map { |line| line[/\d+\z/].to_i })
      end
    end
  end

  # The page that the table of the events begins with, as a failing disk would leave it.
  def damage
    root = Store::Database.value("SELECT rootpage FROM sqlite_schema WHERE name = 'events'")
    Store::Database.checkpoint
    path = Store::Database.path
    ActiveRecord::Base.connection_handler.clear_all_connections!
    File.open(path, "r+b") do |file|
      file.seek((root - 1) * Store::Database::PAGE_BYTES)
      file.write("\xFF" * Store::Database::PAGE_BYTES)
    end
  end

  def test_a_damaged_database_is_told_and_nothing_is_written_into_it
    import_text("2026-11-23T10:00:00Z alder app: entry 1\n")
    port = free_port
    feed("tcp", port: port)
    damage
    capture_io { collect }
    listening(port)
    TCPSocket.open("127.0.0.1", port) { |socket| socket.puts("entry 2") }
    eventually("the damage to be told") { Intake::Live::Notice.read(@data)&.include?("The database is damaged") }
    assert_equal 0, Dir.glob(File.join(@data, Store::Aside::FILE)).size
    ActiveRecord::Base.connection_handler.clear_all_connections!
    stop_collecting
    FileUtils.rm_rf(@data)
  end
end
