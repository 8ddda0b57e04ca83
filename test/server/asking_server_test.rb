# frozen_string_literal: true

require_relative "../test_helper"
require "open3"

# The command line asks a server, with a token, what it asks a data folder: the same words, the same answers.
class AskingServerTest < Northdrift::StoreTest
  include Northdrift
  include Northdrift::Serving

  LOG = Array.new(400) do |at|
    time = Time.utc(2026, 11, 22, 6) + (at * 7)
    "<#{at.even? ? 30 : 27}>1 #{time.strftime('%FT%TZ')} #{%w[alder birch][at % 2]} shop #{at} - - " \
      "order #{at} of #{%w[ann bob eve][at % 3]} took_ms=#{(at * 37) % 900}\n"
  end.join
  BOOT = <<~LOG
    <6>1 2026-11-22T06:30:00Z alder kernel - - - Linux version 6.1.0-28-amd64 (b@example) #1 SMP
    <11>1 2026-11-22T06:31:00Z alder systemd 1 - - shop.service: Main process exited, code=exited, status=1/FAILURE
  LOG
  COMMANDS = [
    ["find", "ann", "--limit", "5"], ["find", "severity >= error", "--as", "count"],
    ["find", "bob", "--as", "csv", "--columns", "took_ms"], ["find", "eve", "--as", "ndjson", "--limit", "3"],
    ["find", "ann", "--as", "raw"], ["find", "ann", "--as", "otlp", "--limit", "2"],
    ["find", "ann", "--zone", "Europe/Oslo", "--limit", "2"], ["find", "nothing of the kind"],
    ["find", "ann", "--from", "2026-11-22 06:10", "--to", "2026-11-22 06:20", "--as", "count"],
    ["find", "usr.name = x"], ["find", "(ann"], ["patterns"], ["patterns", "ann", "--as", "json"],
    ["patterns", "--from", "2026-11-22 06:20", "--to", "2026-11-22 06:40", "--with", "before"], ["fields", "ann"],
    ["fields", "--as", "json"], ["words", "order"], ["measure", "p95(took_ms) by host.name per 10 min", "ann"],
    ["measure", "p95(tok_ms)"], ["measure", "max(took_ms)", "--as", "json"],
    ["compare", "--from", "2026-11-22 06:20", "--to", "2026-11-22 06:40"], ["logbook"], ["logbook", "--as", "json"],
    ["logbook", "--kind", "nonsense"], ["restarts"], ["restarts", "--as", "json"], ["why", "shop.service"],
    ["why", "shop.service", "--as", "json"]
  ].freeze

  def setup
    super
    import_text(LOG)
    import_text(BOOT, name: "boot.log")
    Store::Person.add("Olav", role: "administrator", password: "zither-lantern-plum")
    # What is asked stands in the audit trail, and would come in as lines between two questions.
    Store::Feed.create!(name: "Audit trail", kind: "audit", given: {}, created_us: 1, deleted_us: 1)
    @tokens = { nil => nil, "host.name = alder" => nil }.to_h do |sight, _|
      [sight, Store::Token.make("x", role: "viewer", days: 1, sight: sight.to_s).last]
    end
    serve
  end

  def teardown
    stop_serving
    super
  end

  # @return [Array(String, String, Integer)] output, errors, exit status
  def command(*words, **environment)
    streams = Array.new(2) { IO.pipe }
    pid = fork do
      $stdout.reopen(streams[0][1])
      $stderr.reopen(streams[1][1])
      environment.each { |name, value| ENV[name.to_s] = value }
      status = 0
      begin
        Server::Cli.run(words)
      rescue SystemExit => error
        status = error.status
      end
      $stdout.flush
      exit!(status)
    end
    streams.each { |pair| pair.last.close }
    told = streams.map { |reader, _| Thread.new { reader.read } }.map(&:value)
    Process.wait(pid)
    [*told, Process.last_status.exitstatus]
  end

  def there(*words, sight: nil)
    command(*words, "--server", "http://127.0.0.1:#{@port}", NORTHDRIFT_TOKEN: @tokens[sight])
  end

  # How long it took is not the same.
  def told(answer) = [answer[0].gsub(/"milliseconds":[\d.]+/, ""), *answer[1..]]

  def test_the_same_answers_as_of_a_data_folder
    COMMANDS.each do |words|
      assert_equal told(command(*words, "--data", @data)), told(there(*words)), words.join(" ")
    end
  end

  # A token that is limited sees what it may.
  def test_a_limited_token
    assert_equal ["202\n", "", 0], there("find", "", "--as", "count", sight: "host.name = alder")
    assert_equal ["", "", 1], there("find", "host.name = birch", sight: "host.name = alder")
    assert_equal "402\n", there("find", "", "--as", "count").first
  end

  def test_what_stands_in_the_way
    server = ["--server", "http://127.0.0.1:#{@port}"]
    file = write("token", "#{@tokens[nil]}\n")
    assert_equal "402\n", command("find", "--as", "count", *server, "--token-file", file).first
    {
      ["find", *server] => "wants a token",
      ["find", *server, "--token-file", "#{file}x"] => "the token cannot be read",
      ["find", "--server", "http://127.0.0.1:#{free_port}"] => "does not answer",
      ["find", "--server", "ftp://x"] => "is no address like",
      ["find", "--server", "127.0.0.1"] => "is no address like",
      ["find", "--server", "https://127.0.0.1:#{@port}"] => "does not answer"
    }.each do |words, reason|
      output, errors, status = command(*words)
      assert_equal ["", true, 2], [output, errors.include?(reason), status], errors
    end
  end
end
