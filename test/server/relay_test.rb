# frozen_string_literal: true

require_relative "../test_helper"
require "net/http"
require "open3"
require "socket"
require "stringio"
require "zlib"

# Lines are sent on, at least once, whatever happens on the way.
class RelayTest < Northdrift::StoreTest
  include Northdrift

  def teardown
    @threads.to_a.each(&:kill)
    @servers.to_a.each(&:close)
    super
  end

  def fill(count, from: 0, severity: 14)
    import_text(
      Array
        .new(count) do |index|
          "<#{severity}>1 2026-11-23T10:00:00.#{format('%06d', from + index)}Z alder app 7 - - entry #{from + index}\n"
        end
        .join, name: "#{from}.log"
    )
    Store::RelayQueue.add(
      Store::Database.rows(
        "SELECT id FROM events WHERE source_id = (SELECT max(id) FROM sources) ORDER BY line"
      ).flatten
    )
  end

  def relay(kind, find: "", **settings)
    given = Server::Relay::Form.check(kind, settings.transform_keys(&:to_s))
    Store::Relay.create!(
      name: "onward", kind: kind, given: given, find: find, position: Store::RelayQueue.last, created_us: 1
    )
  end

  def courier(relay) = Server::Relay::Courier.new(relay, again: 0..0)

  # Serves connections one after another with the block.
  def serve(tls: nil)
    server = TCPServer.new("127.0.0.1", 0)
    (@servers ||= []) << server
    (@threads ||= []) << Thread.new do
      loop do
        socket = server.accept
        yield tls ? OpenSSL::SSL::SSLSocket.new(socket, tls).tap { |one| one.sync_close = true }.accept : socket
      rescue SystemCallError, IOError, OpenSSL::SSL::SSLError
        next
      end
    end
    server.addr[1]
  end

  # RFC 6587, section 3.4.1: length in bytes, a blank, the message.
  def frames(socket)
    while (size = socket.gets(" "))
      yield socket.read(size.to_i)
    end
  end

  def numbers(messages) = messages.map { |message| message[/entry (\d+)/, 1].to_i }

  def test_lines_are_sent_on_over_tcp_as_they_came_in
    got = []
    onward = relay("tcp", host: "127.0.0.1", port: serve { |socket| frames(socket) { |message| got << message } })
    fill(1500)
    way = courier(onward)
    assert way.step
    assert way.step
    refute way.step
    eventually { got.size == 1500 }
    assert_equal [*0...1500], numbers(got)
    assert_equal "<14>1 2026-11-23T10:00:00.000000Z alder app 7 - - entry 0", got.first
    assert_equal(
      [1500, 0, nil],
      onward
        .reload
        .slice("sent", "waiting", "problem")
        .values_at("sent", "waiting", "problem")
        .then { |sent, _, problem| [sent, onward.waiting, problem] }
    )
  end

  def test_only_what_is_asked_for_is_sent
    got = []
    onward =
      relay(
        "tcp",
        host: "127.0.0.1", port: serve { |socket| frames(socket) { |message| got << message } },
        find: "severity >= error"
      )
    fill(5)
    fill(3, from: 100, severity: 11)
    way = courier(onward)
    eventually { !way.step }
    eventually { got.size == 3 }
    assert_equal [[100, 101, 102], 3, 0], [numbers(got), onward.reload.sent, onward.waiting]
  end

  # Each connection is cut after a while; what was not read by then must come again.
  def test_a_connection_that_breaks_loses_nothing
    got = []
    port = serve do |socket|
      taken = 0
      frames(socket) do |message|
        got << message
        break if (taken += 1) >= 1200
      end
      socket.close
    end
    onward = relay("tcp", host: "127.0.0.1", port: port)
    6.times { |part| fill(500, from: part * 500) }
    way = courier(onward)
    eventually do
      way.step
      numbers(got).uniq.size == 3000
    end
    assert_equal [*0...3000], numbers(got).uniq.sort
  end

  def test_nobody_there_is_told_and_tried_again
    port = Ports.take
    onward = relay("tcp", host: "127.0.0.1", port: port)
    fill(10)
    way = courier(onward)
    way.step
    assert_match(/refused/i, onward.reload.problem)
    got = []
    server = TCPServer.new("127.0.0.1", port)
    (@servers ||= []) << server
    (@threads ||= []) << Thread.new { frames(server.accept) { |message| got << message } }
    way.step
    eventually { got.size == 10 }
    assert_nil onward.reload.problem
  end

  # The receiver is OpenSSL's own test server, which prints what it gets.
  def test_lines_go_over_tls_to_one_whose_certificate_is_known
    certificate, key = Intake::Live::Certificate.load(@data).then { |chain, secret| [Array(chain).first, secret] }
    pem = write("c.pem", certificate.to_pem + key.to_pem)
    port = Ports.take
    Open3.popen2e(
      "openssl", "s_server", "-accept", "127.0.0.1:#{port}", "-cert", pem, "-quiet", "-naccept", "2"
    ) do |input, output, process|
      got = +"".b
      reader =
        Thread.new do
          loop { got << output.readpartial(4096) }
        rescue IOError
          nil # the server has ended
        end
      eventually { open?(port) }
      onward = relay("tls", host: "127.0.0.1", port: port, certificate: certificate.to_pem)
      fill(20)
      way = courier(onward)
      eventually { way.step && onward.reload.sent == 20 }
      eventually { got.include?("entry 19") }
      input.close
      Process.kill(:TERM, process.pid)
      process.value
      reader.join
      assert_equal [*0...20], numbers(to_enum(:frames, StringIO.new(got[/\d+ <14>.*/m].to_s)).to_a)
    end
  end

  def open?(port)
    TCPSocket.open("127.0.0.1", port, &:close)
    true
  rescue SystemCallError
    false
  end

  def test_a_certificate_that_is_not_known_is_refused
    certificate, key = Intake::Live::Certificate.load(@data).then { |chain, secret| [Array(chain).first, secret] }
    context = OpenSSL::SSL::SSLContext.new.tap { |one| one.add_certificate(certificate, key) }
    onward = relay("tls", host: "127.0.0.1", port: serve(tls: context, &:read))
    fill(1)
    courier(onward).step
    assert_match(/certificate verify failed/, onward.reload.problem)
    assert_equal 1, onward.waiting
  end

  # @return [Integer] port of a server that answers with these, one after another, and notes what it was sent
  def http(answers, got)
    serve do |socket|
      while (line = socket.gets)
        headers =
          socket
            .each_line
            .take_while { |header| header != "\r\n" }
            .to_h { |header| header.chomp.split(": ", 2) }
            .transform_keys(&:downcase)
        got << [line, headers, JSON.parse(Zlib.gunzip(socket.read(headers["content-length"].to_i)))]
        code, body, *more = answers.size > 1 ? answers.shift : answers.first
        more = more.map { |header| "#{header}\r\n" }.join
        socket.write("HTTP/1.1 #{code} x\r\ncontent-length: #{body.bytesize}\r\n#{more}\r\n#{body}")
      end
    end
  end

  def bodies(got)
    got
      .flat_map do |_, _, body|
        body["resourceLogs"].flat_map { |resource| resource["scopeLogs"].flat_map { |scope| scope["logRecords"] } }
      end
      .map { |record| record["body"]["stringValue"] }
  end

  def test_lines_are_sent_on_over_http_and_tried_again_as_the_standard_has_it
    got = []
    onward =
      relay(
        "http",
        url: "http://127.0.0.1:#{http([[503, '', 'retry-after: 0'], [200, '{}']], got)}/v1/logs", token: "sesame"
      )
    fill(600)
    way = courier(onward)
    way.step
    assert_match(/answered 503/, onward.reload.problem)
    way.step
    assert_equal [600, nil], [onward.reload.sent, onward.problem]
    assert_equal ["POST /v1/logs HTTP/1.1\r\n", "Bearer sesame", "application/json"],
                 [got[0][0], *got[0][1].values_at("authorization", "content-type")]
    assert_equal [*0...600], numbers(bodies(got.drop(1)))
  end

  def test_what_the_other_side_will_not_have_is_counted_and_does_not_hold_up_the_rest
    port = http([[400, ""], [200, '{"partialSuccess":{"rejectedLogRecords":"2","errorMessage":"no"}}']], [])
    onward = relay("http", url: "http://127.0.0.1:#{port}/v1/logs")
    fill(5)
    fill(7, from: 50)
    way = courier(onward)
    2.times { way.step }
    assert_equal [5, 7, 0], [onward.reload.sent, onward.refused, onward.waiting]
  end

  # OpenTelemetry protocol, "OTLP/HTTP Response": 429, 502, 503 and 504 are tried again, other answers of 4xx and 5xx
  # are not. 401 to 405, 407, 415 and 3xx say nothing of the lines (RFC 9110, section 15), and are tried again, too.
  [
    [[200, 202, 204], [5, 0, 0], nil], [[400, 413, 422, 500, 501], [0, 5, 0], nil],
    [[408, 429, 502, 503, 504], [0, 0, 5], /\Athe other side answered \d{3}\z/],
    [[301, 308, 401, 403, 404, 405, 407, 415], [0, 0, 5], /answered \d{3} .*: see the address and the token/]
  ].each do |codes, (sent, refused, waiting), problem|
    codes.each do |code|
      define_method("test_what_an_answer_of_#{code}_says_of_the_lines") do
        onward = relay("http", url: "http://127.0.0.1:#{http([[code, '']], [])}/v1/logs")
        fill(5)
        courier(onward).step
        assert_equal [sent, refused, waiting], [onward.reload.sent, onward.refused, onward.waiting]
        problem ? assert_match(problem, onward.problem) : assert_nil(onward.problem)
      end
    end
  end

  # Seconds or nothing: a date (RFC 9110, section 10.2.3) is no number, and the usual pause holds.
  def test_who_is_asked_to_wait_waits_so_long_and_no_longer_than_its_most
    { "2" => 2, "9999" => 4, "Wed, 21 Oct 2026 07:28:00 GMT" => 1, "-5" => 1 }.each do |said, seconds|
      onward = relay("http", url: "http://127.0.0.1:#{http([[503, '', "retry-after: #{said}"]], [])}/v1/logs")
      fill(1)
      way = Server::Relay::Courier.new(onward, again: 1..4)
      way.step
      assert_equal seconds, way.instance_variable_get(:@pause), said
    end
  end

  def test_the_queue_goes_with_the_slowest_and_is_not_kept_for_nobody
    fill(3)
    assert_equal 0, Store::Database.value("SELECT count(*) FROM relay_queue")
    one = relay("tcp", host: "127.0.0.1", port: 9)
    other = relay("tcp", host: "127.0.0.1", port: 9)
    fill(3, from: 10)
    one.update!(position: Store::RelayQueue.last)
    Store::RelayQueue.tidy
    assert_equal [0, 3], [one.waiting, other.waiting]
    other.update!(deleted_us: 1)
    Store::RelayQueue.tidy
    assert_equal 0, Store::Database.value("SELECT count(*) FROM relay_queue")
  end

  def test_settings_that_will_not_do
    Store::Feed.create!(name: "x", kind: "tcp", given: { "port" => 5514 }, created_us: 1)
    {
      "port" => ["tcp", { "host" => "127.0.0.1", "port" => 5514 }], "host" => ["tcp", { "host" => "a b" }],
      "url" => ["http", { "url" => "ftp://x" }], "certificate" => ["tls", { "host" => "x", "certificate" => "no" }],
      "token" => ["http", { "url" => "http://x/", "token" => "a\nb" }], "kind" => ["carrier pigeon", {}]
    }.each do |setting, (kind, values)|
      assert_equal setting,
                   assert_raises(Server::Relay::Form::Unfit) { Server::Relay::Form.check(kind, values) }.setting
    end
  end
end
