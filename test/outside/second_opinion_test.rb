# frozen_string_literal: true

require_relative "../test_helper"
require "logfmt"
require "open3"
require "socket"
require "syslog/parser"
require "syslog_protocol"
require "timeout"

# Other programs on the same input: parsers from RubyGems, logger(1) of util-linux, and grep(1).
class SecondOpinionTest < Northdrift::StoreTest
  include Northdrift

  # The gem syslog_protocol, on a few thousand lines that logger(1) would send.
  def test_rfc3164_against_a_gem
    random = Random.new(1)
    3000.times do
      packet = SyslogProtocol::Packet.new
      packet.hostname = "h-#{random.rand(99)}"
      packet.facility = random.rand(24)
      packet.severity = random.rand(8)
      packet.tag = "app#{random.rand(9)}"
      packet.time =
        Time.utc(2026, 1 + random.rand(11), 1 + random.rand(28), random.rand(24), random.rand(60), random.rand(60))
      packet.content = "event #{random.rand(10_000)} of unit #{random.rand(9)}"
      line = packet.assemble
      other = SyslogProtocol.parse(line.dup)
      event = read(line)
      assert_equal [other.hostname, other.tag, other.severity, other.facility],
                   [
                     event.machine, event.service, event.severity,
                     Reading::Syslog::FACILITIES.index(event.constants["syslog.facility"])
                   ], line
      assert_equal [other.time.month, other.time.day, other.time.hour, other.time.min, other.time.sec],
                   [event.time.month, event.time.day, event.time.hour, event.time.min, event.time.sec], line
      assert_includes line, event.message
    end
  end

  # The gem syslog-parser, a grammar of RFC 5424, on lines put together by the rules of section 6: any header may be
  # nil, elements have any number of parameters, and what must be escaped in their values is (6.3.3; but for
  # backslashes, which the gem does not take escaped).
  def test_rfc5424_against_a_gem
    random = Random.new(4)
    600.times do
      given = elements(random)
      line = syslog_line(random, given)
      other = Syslog::Parser.new.parse(line)
      event = read(line)
      assert_equal :rfc5424, event.reader, line
      assert_equal(
        [other.facility, other.severity, other.hostname, other.app_name, other.procid, other.msgid, other.msg.to_s],
        [
          Reading::Syslog::FACILITIES.index(event.constants["syslog.facility"]), event.severity, event.machine,
          event.service, event.fields["process.pid"], event.fields["log.record.id"], event.message
        ], line
      )
      assert_equal (other.timestamp.to_r * 1_000_000).to_i, event.time_us, line
      params = given.flat_map(&:last).to_h
      assert_equal(params, event.fields.slice(*params.keys).transform_values { |text| Text.utf8(text) }, line)
    end
  end

  def syslog_word(random, most)
    Array.new(random.rand(1..most)) { [*"a".."z", *"0".."9", "-", ".", "/", "_"].sample(random: random) }.join
  end

  # @return [Array<Array(String, Array<Array(String, String)>)>] ids of elements with their parameters
  def elements(random)
    Array.new(random.rand(3)) do |index|
      params = Array.new(random.rand(3)) do |key|
        signs = Array.new(random.rand(1..8)) { ["a", " ", "]", '"', "=", "å", "7"].sample(random: random) }
        ["p#{index}#{key}", signs.join]
      end
      ["e#{index}@32473", params]
    end
  end

  def syslog_line(random, given)
    data = given.map do |id, params|
      said = params.map { |name, text| "#{name}=\"#{text.gsub(/["\]]/) { |sign| "\\#{sign}" }}\"" }
      "[#{[id, *said].join(' ')}]"
    end
    clock = "06:12:08#{['', '.5', '.123456'].sample(random: random)}#{%w[Z +01:00 -03:30].sample(random: random)}"
    headers = [60, 40, 12, 12].map { |most| random.rand(5).zero? ? "-" : "x#{syslog_word(random, most)}" }
    "<#{random.rand(192)}>1 2026-11-22T#{clock} #{headers.join(' ')} #{given.empty? ? '-' : data.join} " \
      "it was #{syslog_word(random, 9)}"
  end

  # The gem logfmt, on key=value lines.
  def test_key_value_against_a_gem
    random = Random.new(2)
    2000.times do
      line =
        "ts=2026-11-22T06:12:08Z lane=u#{random.rand(9)} note=\"a b #{random.rand(99)} \\\"x\\\"\" path=/v" \
        "#{random.rand(9)}/x?y=1 took=#{random.rand(900)}ms"
      other = Logfmt.parse(line)
      event = read(line)
      %w[lane note path took].each { |key| assert_equal other[key], event.fields[key], line }
    end
  end

  # logger(1): what it sends in both formats is read with all that was told it.
  def test_lines_that_logger_writes
    { "--rfc5424" => :rfc5424, "--rfc3164" => :rfc3164 }.each do |form, reader|
      socket = UDPSocket.new.tap { |udp| udp.bind("127.0.0.1", 0) }
      system(
        "logger", "--udp", "--server", "127.0.0.1", "--port", socket.addr[1].to_s, form, "-p", "daemon.warning", "-t",
        "ferry", "--id=4711", "mind the gap 17", exception: true
      )
      sent = Timeout.timeout(5) { socket.recvfrom(4096).first }
      event = read(sent.chomp, reference: Time.now)
      assert_equal [reader, 4, "daemon", "ferry", "4711", "mind the gap 17"],
                   [
                     event.reader, event.severity, event.constants["syslog.facility"], event.service,
                     event.fields["process.pid"], event.message
                   ], sent
      assert_in_delta Time.now.to_f, event.time.to_f, 86_400
    end
  end

  LOGS =
    %w[/var/log/dpkg.log /var/log/alternatives.log /var/log/apt/history.log].select do |path|
      File.size?(path) && File.readable?(path)
    end

  # Find text, and the arguments with which grep(1) counts the same lines. Words without a case, whole (-w), as grep has
  # them.
  QUESTIONS = {
    "installed" => %w[-iw installed], "libc6" => %w[-iw libc6], "half-configured" => %w[-iw half-configured],
    '"status installed"' => ["-iE", "\\bstatus\\W+installed\\b"], "*trig*" => %w[-iF trig],
    "python3*" => ["-iE", "\\bpython3"],
    "text ~ /lib[a-z]+[0-9]:amd64 [0-9.]+-[0-9]/" => ["-E", "lib[a-z]+[0-9]:amd64 [0-9.]+-[0-9]"],
    "message ~ /status (installed|unpacked) lib/" => ["-E", "status (installed|unpacked) lib"],
    "configure not status" => nil
  }.freeze

  LOGS.each do |path|
    define_method("test_counts_equal_grep_on_#{File.basename(path, '.log')}") do
      import(path)
      # A run of apt(8) is one record of several lines; grep sees it as one when it is one line.
      if path.end_with?("history.log")
        path =
          write(
            "runs", File.read(path).split(/\n{2,}/).map { |run| "#{run.strip.tr("\n", ' ')}\n" }.join
          )
      end
      QUESTIONS.each do |text, arguments|
        expected = if arguments
          Open3.capture2({ "LC_ALL" => "C.UTF-8" }, "grep", "-c", *arguments, path).first.to_i
        else
          Open3.capture2("sh", "-c", "grep -iw configure #{path} | grep -vciw status").first.to_i
        end
        assert_equal expected, question(text).total, "#{text} in #{path}"
      end
    end
  end

  def test_there_were_logs_to_compare = assert_operator(LOGS.size, :>=, 1, "no log of this machine could be read")
end
