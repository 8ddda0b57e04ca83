# frozen_string_literal: true

require_relative "../test_helper"

# Senders that are slow, huge, many or wrong: limits hold, and others are served.
class LimitsTest < Northdrift::StoreTest
  include Northdrift
  include Collecting

  TOKEN = "sesame-sesame-sesame"
  MEGABYTE = 1 << 20

  def setup
    super
    @tcp, @http = Array.new(2) { free_port }
    feed("tcp", port: @tcp)
    feed("http", port: @http, token: TOKEN)
    collect
    [@tcp, @http].each { |port| listening(port) }
  end

  def teardown
    stop_collecting
    super
  end

  def line(number) = "<13>1 2026-11-23T10:00:00.#{format('%06d', number)}Z alder app 7 - - entry #{number}"

  def post(body, token: TOKEN)
    Net::HTTP.post(
      URI("http://127.0.0.1:#{@http}/lines"), body,
      "authorization" => "Bearer #{token}", "content-type" => "application/x-ndjson"
    )
  end

  # @return [Integer] megabytes of the largest process that takes lines in
  def largest
    names = ["northdrift: receiving", "northdrift: collecting (test)", "northdrift: reading"]
    processes
      .slice(*names)
      .values
      .flatten
      .map { |pid| File.read("/proc/#{pid}/status")[/VmHWM:\s+(\d+)/, 1].to_i / 1024 }
      .max
  end

  def others_are_served
    assert_equal "200", post("{\"msg\":\"served by HTTP\"}").code
    TCPSocket.open("127.0.0.1", @tcp) { |socket| socket.puts(line(999_999)) }
    eventually { found("served").size == 1 && found("999999").size == 1 }
  end

  # A header a byte at a time, from as many as there are threads and more.
  def test_slow_requests
    slow =
      Array.new(40) do
        TCPSocket.new("127.0.0.1", @http).tap { |socket| socket.write("POST /lines HTTP/1.1\r\nHost: x\r\nX-Slow: ") }
      end
    3.times { slow.each { |socket| socket.write("a") } && sleep(0.1) }
    others_are_served
    slow.each(&:close)
  end

  def test_a_line_without_end
    before = largest
    chunk = "a" * MEGABYTE
    sent = 0
    socket = TCPSocket.new("127.0.0.1", @tcp)
    socket.write("<13>1 - alder app - - - ")
    assert_raises(Errno::EPIPE, Errno::ECONNRESET) { 1024.times { sent += socket.write(chunk) } }
    assert_operator sent, :<, 64 * MEGABYTE
    body = Enumerator.new { |all| 200.times { all << chunk } }
    assert_includes [413, nil], refused_status(body)
    assert_equal 0, question("a*").total - question("alder or app").total
    others_are_served
    assert_operator largest - before, :<, 200
    eventually { Store::Feed.find_by(kind: "tcp").refused == 1 }
  end

  # @return [Integer, nil] status of an answer to a body that has no end; nil when the connection was ended instead
  def refused_status(body)
    request =
      Net::HTTP::Post.new(
        "/lines",
        "authorization" => "Bearer #{TOKEN}", "content-type" => "application/x-ndjson", "transfer-encoding" => "chunked"
      )
    request.body_stream = StringIO.new(body.first(200).join)
    Net::HTTP.start("127.0.0.1", @http) { |client| client.request(request).code.to_i }
  rescue SystemCallError, IOError
    nil
  end

  def test_ten_thousand_connections_one_after_another
    10_000.times do |number|
      TCPSocket.open("127.0.0.1", @tcp) { |socket| socket.write("#{line(number)}\n") }
    end
    eventually { question("entry").total == 10_000 }
    assert_equal [*0...10_000], found("entry").map { |text| text[/entry (\d+)/, 1].to_i }.sort
  end

  # What is above the limit waits until others of its sender have ended.
  def test_more_connections_than_one_sender_may_have
    held = Array.new(70) { |number| TCPSocket.new("127.0.0.1", @tcp).tap { |socket| socket.puts(line(number)) } }
    eventually { found("entry").size == 60 }
    assert_equal "200", post("{\"msg\":\"served by HTTP\"}").code
    held.first(20).each(&:close)
    eventually { found("entry").size == 70 }
    held.last(50).each(&:close)
  end

  def test_frames_that_are_none
    ["999999999999 x", "5 abcde7 ", "\x00\x01\x02\xFF" * 100, "<13>\n" * 3].each do |bytes|
      TCPSocket.open("127.0.0.1", @tcp) { |socket| socket.write(bytes.b) }
    end
    10.times { assert_equal "401", post("{}", token: "wrong").code }
    others_are_served
    assert_includes found, "abcde"
  end

  # Names are what a sender says; each would be a machine of the fleet.
  def test_a_sender_that_invents_machines
    port = free_port
    given = feed("tcp", name: "inventive", port: port, machines: 5)
    listening(port)
    TCPSocket.open("127.0.0.1", port) do |socket|
      80.times { |n| socket.puts("<13>1 2026-11-23T10:00:00Z hall#{n % 40} app - - - entry #{n}") }
    end
    come(80)
    # Two processes read, each with a count of its own.
    named, rest = question("entry").to_enum(:each).map(&:machine).partition { |name| name.start_with?("hall") }
    assert_includes 5..10, named.uniq.size
    assert_equal 1, rest.uniq.size
    assert_match(/\Amore machines of /, rest.first)
    assert_match(/ named more than 5 machines within an hour; lines of others are filed/, given.reload.problem)
    refute_empty found("hall39"), "its own name stands in the line"
  end
end
