# frozen_string_literal: true

require_relative "../test_helper"

# A disk without room: what comes in waits and the reason is told; when there is room again, it goes on by itself.
class FullDiskTest < Northdrift::StoreTest
  include Northdrift
  include Collecting

  TOKEN = "sesame-sesame-sesame"
  SIZE_MB = 16
  BALLAST_MB = 8

  def setup
    @dir = Dir.mktmpdir("northdrift-full")
    @data = File.join(@dir, "data")
    FileUtils.mkdir_p(@data)
    @mounted = system("mount", "-t", "tmpfs", "-o", "size=#{SIZE_MB}m", "tmpfs", @data, err: File::NULL)
    skip "a small disk can be made by root alone" unless @mounted
    Store::Database.open(@data)
  end

  def teardown
    stop_collecting
    ActiveRecord::Base.connection_handler.clear_all_connections!
    system("umount", "-l", @data) if @mounted
    FileUtils.rm_rf(@dir)
  end

  def post(port, number)
    lines =
      Array
        .new(500) do |index|
          "<13>1 2026-11-23T10:00:00.#{format('%06d', index)}Z alder app 7 - - entry #{(number * 500) + index} " \
            "#{'x' * 200}"
        end
        .join("\n")
    Net::HTTP.start("127.0.0.1", port, read_timeout: 4) do |client|
      client.post(
        "/lines", lines,
        "authorization" => "Bearer #{TOKEN}", "content-type" => "application/x-ndjson",
        "idempotency-key" => "n#{number}"
      ).code
    end
  rescue SystemCallError, IOError, Timeout::Error
    nil
  end

  # An answer may be late without the disk being full, and is asked for again.
  # @return [Integer] how many were acknowledged by the time that the notice stood there
  def fill(port)
    acknowledged = 0
    eventually do
      acknowledged += 1 if post(port, acknowledged) == "200"
      assert_operator acknowledged, :<, 200, "the disk never became full"
      Intake::Live::Notice.read(@data)&.match?(/Nothing can be written|No space/)
    end
    acknowledged
  end

  # As when a file system is mounted read-only after a fault. What has files open there keeps that from being tried
  # while it runs, so the collector is started on it.
  def test_what_comes_in_waits_for_a_folder_that_can_be_written_to
    port = free_port
    feed("http", port: port, token: TOKEN)
    ActiveRecord::Base.connection_handler.clear_all_connections!
    system("mount", "-o", "remount,ro", @data, exception: true)
    assert_match(/read-only/, Intake::Live::Notice.read(@data))
    start_collecting
    sleep 3
    refute_equal "200", post(port, 0)
    system("mount", "-o", "remount,rw", @data, exception: true)
    assert_nil Intake::Live::Notice.read(@data)
    Store::Database.open(@data)
    eventually { post(port, 0) == "200" }
    assert_equal [*0...500], found("entry").map { |text| text[/entry (\d+)/, 1].to_i }.sort
    assert_equal "ok", Store::Database.value("PRAGMA integrity_check")
  end

  def test_what_comes_in_waits_for_room
    ballast = File.join(@data, "ballast")
    File.binwrite(ballast, "\0" * (BALLAST_MB << 20))
    port = free_port
    feed("http", port: port, token: TOKEN)
    collect
    listening(port)
    acknowledged = fill(port)
    assert_equal "ok", Store::Database.value("PRAGMA integrity_check")
    File.unlink(ballast)
    eventually { post(port, acknowledged) == "200" }
    eventually { Intake::Live::Notice.read(@data).nil? }
    assert_equal [*0...((acknowledged + 1) * 500)], found("entry").map { |text| text[/entry (\d+)/, 1].to_i }.sort
    assert_equal "ok", Store::Database.value("PRAGMA integrity_check")
  end
end
