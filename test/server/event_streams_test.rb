# frozen_string_literal: true

require_relative "../test_helper"

# Pages that listen, browsers that keep connections open and say nothing, and uploads that trickle keep nobody from
# being answered.
class EventStreamsTest < Northdrift::StoreTest
  include Northdrift
  include Northdrift::Serving

  def setup
    super
    import_text("<13>1 2026-11-23T10:00:00Z alder app - - - entry 0\n")
    @tcp = free_port
    feed("tcp", port: @tcp)
    serve
    listening(@tcp)
    @sockets = []
  end

  def teardown
    @sockets.each(&:close)
    stop_serving
    super
  end

  def socket = TCPSocket.new("127.0.0.1", @port).tap { |one| @sockets << one }

  # @return [TCPSocket] that events come from
  def events(*queries)
    wanted = queries.map { |query| "follow[]=#{CGI.escape(query)}" }.join("&")
    socket.tap { |one| one.write("GET /api/events?#{wanted} HTTP/1.1\r\nHost: 127.0.0.1:#{@port}\r\n\r\n") }
  end

  # @return [String] what has come by then, which has so much at least
  def heard(stream, what)
    said = +""
    eventually(what) do
      piece = stream.read_nonblock(1 << 16, exception: false)
      said << piece if piece.is_a?(String)
      said.match?(what)
    end
    said
  end

  def send_line(text, machine: "alder")
    TCPSocket.open("127.0.0.1", @tcp) { |one| one.puts("<13>1 - #{machine} app - - - #{text}") }
  end

  def test_each_question_is_told_of_its_lines
    stream = events("find=berth", "find=quay", 'find="never ending')
    head = heard(stream, /event: ready\ndata: {"follow":1}/)
    assert_includes head, "content-type: text/event-stream"
    assert_includes head, "content-security-policy", "what the guard says of all answers"
    assert_match(/event: change\ndata: {"lines":1}/, head)
    send_line("a berth")
    said = heard(stream, /event: lines/)
    told = JSON.parse(said[/event: lines\ndata: (.*)/, 1])
    assert_equal 0, told["follow"]
    assert_equal(["a berth"], told["lines"].map { |line| line["message"] })
  end

  def test_those_who_wait_keep_nobody_from_being_answered
    listening = Array.new(100) { |n| events("find=entry", "find=#{n}") }
    Array.new(200) { socket }
    20.times do
      socket.write("POST /api/imports?name=slow.log HTTP/1.1\r\nHost: 127.0.0.1:#{@port}\r\nContent-Length: " \
                   "100000\r\n\r\nx")
    end
    listening.each { |stream| heard(stream, /ready/) }
    ten = Array.new(10) { Net::HTTP.get_response("127.0.0.1", "/api/lines?find=entry", @port).code }
    assert_equal ["200"], ten.uniq
    send_line("entry 1")
    listening.each { |stream| heard(stream, /event: lines/) }
  end

  def test_who_leaves_is_forgotten
    before = open_files
    Array.new(30) { events("find=entry").tap { |stream| heard(stream, /ready/) } }.each(&:close)
    eventually("connections to be closed") { open_files <= before + 2 }
  end

  def open_files = descendants(@server).sum { |pid| title(pid).to_s.start_with?("puma") ? files(pid) : 0 }

  def files(pid)
    Dir.children("/proc/#{pid}/fd").count do |fd|
      File.readlink("/proc/#{pid}/fd/#{fd}").start_with?("socket")
    rescue Errno::ENOENT
      false # it was closed meanwhile
    end
  end

  # Lines that come in, and what noise rules turn away.
  def test_who_does_not_see_everything_hears_of_that_alone
    Store::Person.add("Root", role: "administrator", password: "zither-lantern-plum")
    _, secret = Store::Token.make("watch", role: "viewer", days: 1, sight: "host.name = alder")
    stream = socket
    stream.write("GET /api/events?follow[]=find=entry HTTP/1.1\r\nHost: 127.0.0.1:#{@port}\r\n" \
                 "Authorization: Bearer #{secret}\r\n\r\n")
    heard(stream, /ready/)
    send_line("entry 1 elsewhere", machine: "birch")
    send_line("entry 2 here", machine: "alder")
    said = heard(stream, /entry 2/)
    refute_includes said, "entry 1"
  end

  def test_who_was_logged_out_hears_nothing_any_more
    Store::Person.add("Vera", role: "viewer", password: "zither-lantern-plum")
    login = Net::HTTP.post(
      URI("http://127.0.0.1:#{@port}/api/session"),
      JSON.generate(name: "Vera", password: "zither-lantern-plum"), "content-type" => "application/json"
    )
    cookie = login["set-cookie"][/\Anorthdrift=\h+/]
    stream = socket
    stream.write("GET /api/events HTTP/1.1\r\nHost: 127.0.0.1:#{@port}\r\nCookie: #{cookie}\r\n\r\n")
    heard(stream, /200 OK.*retry/m)
    strange = socket
    strange.write("GET /api/events HTTP/1.1\r\nHost: 127.0.0.1:#{@port}\r\n\r\n")
    assert_includes heard(strange, /log in first/), "401"
    Store::Session.delete_all
    eventually("the end of the stream") { stream.read_nonblock(1 << 16, exception: false).nil? }
  end
end
