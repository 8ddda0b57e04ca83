# frozen_string_literal: true

require_relative "../test_helper"

# The receiving process hands bundles to the collector as files. A file that cannot be written, for whatever reason,
# is written later; the reason is told, and what waits is acknowledged only once it is in the database.
class ReceiverTest < Northdrift::StoreTest
  include Northdrift
  include Northdrift::Collecting

  def setup
    super
    @spool = File.join(@dir, "spool")
    @reader, bundles = IO.pipe
    settled, @answers = IO.pipe
    [bundles, @answers].each { |pipe| pipe.sync = true }
    @receiver = Intake::Live::Receiver.new(@data, @spool, bundles, settled)
    @stop = false
  end

  def teardown
    @stop = true
    # What waits to be written gives up when it is told to stop.
    eventually { @running.nil? || @running.join(0.1) }
    [@reader, @answers].each(&:close)
    super
  end

  def run_receiver = @running = Thread.new { @receiver.run(stop: -> { @stop }) }

  def send_to(port, text)
    listening(port)
    TCPSocket.open("127.0.0.1", port) { |socket| socket.puts(text) }
  end

  # At once, as a disk comes back: without a folder the receiver would think that its collector is gone.
  def out_of_the_way
    Dir.mkdir(File.join(@dir, "folder"))
    File.symlink("folder", "#{@spool}-new")
    File.rename("#{@spool}-new", @spool)
  end

  def in_the_way
    write("file", "in the way")
    File.symlink("file", @spool)
  end

  LINE = "<13>1 2026-11-23T10:00:00Z alder app 7 - - entry 1"

  # A folder's place is taken by a file (ENOTDIR): as with a disk that fails, it is no lack of room.
  def while_nothing_can_be_written
    in_the_way
    port = free_port
    feed("tcp", port: port)
    capture_io do
      run_receiver
      send_to(port, LINE)
      eventually { Intake::Live::Notice.read(@data)&.include?("Not a directory") }
      yield
    end
  end

  def test_a_bundle_waits_until_its_file_can_be_written
    while_nothing_can_be_written do
      assert_nil @reader.wait_readable(0)
      out_of_the_way
      _, path = @reader.gets(chomp: true).split(" ", 2)
      assert_equal([LINE], Intake::ReadingProcess.take(path).groups.map { |group| group.text.chomp })
      assert_nil Intake::Live::Notice.read(@data)
    end
  end

  def test_who_cannot_write_ends_when_it_is_told_to
    while_nothing_can_be_written do
      @stop = true
      eventually("the receiver to end") { @running.join(0.1) }
    end
    assert_nil @reader.wait_readable(0)
  end
end
