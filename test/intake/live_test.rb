# frozen_string_literal: true

require_relative "../test_helper"
require "openssl"
require "zlib"

# Lines come in by themselves: over the network, from files that are written, from commands.
class LiveTest < Northdrift::StoreTest
  include Northdrift
  include Collecting

  TOKEN = "sesame-sesame-sesame"

  def teardown
    stop_collecting
    super
  end

  def syslog(text, host: "alder", number: 1)
    "<13>1 2026-11-23T10:00:00.#{format('%06d', number)}Z #{host} app 7 - - #{text}"
  end

  def listener(kind)
    port = free_port
    feed(kind, port: port)
    collect
    kind == "udp" ? eventually { File.read("/proc/net/udp").include?(format(":%04X ", port)) } : listening(port)
    port
  end

  def test_datagrams_are_messages
    port = listener("udp")
    socket = UDPSocket.new
    [
      syslog("one"), "#{syslog('two', number: 2)}\n", "<13>Nov 23 10:00:01 birch app: three", "no syslog at all"
    ].each { |text| socket.send(text, 0, "127.0.0.1", port) }
    lines = come(4)
    assert_equal [
      "no syslog at all", syslog("one"), syslog("two", number: 2), "<13>Nov 23 10:00:01 birch app: three"
    ].sort, lines.sort
    source = Store::Source.sole
    assert_equal ["udp 127.0.0.1", 4, 1, { "rfc5424" => 2, "rfc3164" => 1, "plain" => 1 }],
                 [source.name, source.events, source.unread, source.by_reader]
  end

  # RFC 6587, sections 3.4.1 and 3.4.2, in whatever pieces it comes.
  def test_a_stream_with_counted_messages_and_lines
    port = listener("tcp")
    inside = syslog("with a line\nfeed inside", number: 3)
    stream = "#{syslog('line', number: 1)}\n#{inside.bytesize} #{inside}#{syslog('last', number: 9)}"
    TCPSocket.open("127.0.0.1", port) do |socket|
      stream.each_char.each_slice(7) { |part| socket.write(part.join) && socket.flush }
    end
    assert_equal [syslog("line", number: 1), inside, syslog("last", number: 9)], come(3)
  end

  def test_a_stream_that_cannot_be_cut_is_ended_and_others_are_served
    port = listener("tcp")
    bad = TCPSocket.new("127.0.0.1", port)
    bad.write("#{syslog('before')}\n99999999 x")
    assert_nil bad.read(1), "the connection should have been closed"
    TCPSocket.open("127.0.0.1", port) { |socket| socket.puts(syslog("after", number: 2)) }
    assert_equal [syslog("before"), syslog("after", number: 2)], come(2)
    eventually { Store::Feed.sole.refused == 1 }
  end

  def test_tls_with_a_certificate_made_on_first_use
    port = listener("tls")
    context = OpenSSL::SSL::SSLContext.new
    eventually { File.exist?(File.join(@data, "collector.crt")) }
    context.ca_file = File.join(@data, "collector.crt")
    context.verify_mode = OpenSSL::SSL::VERIFY_PEER
    context.verify_hostname = true
    secure = OpenSSL::SSL::SSLSocket.new(TCPSocket.new("127.0.0.1", port), context)
    secure.hostname = "localhost"
    secure.connect
    secure.puts(syslog("sealed"))
    secure.close
    assert_equal [syslog("sealed")], come(1)
    assert_equal 0o600, File.stat(File.join(@data, "collector.key")).mode & 0o777
  end

  def post(port, path, body, type: "application/x-ndjson", token: TOKEN, **headers)
    Net::HTTP.post(
      URI("http://127.0.0.1:#{port}#{path}"), body,
      { "content-type" => type, "authorization" => "Bearer #{token}" }.merge(headers.transform_keys(&:to_s))
    )
  end

  def http
    port = free_port
    feed("http", port: port, token: TOKEN)
    collect
    listening(port)
    port
  end

  def test_lines_by_http_are_in_the_database_when_they_are_answered
    port = http
    eventually { post(port, "/lines", "{\"msg\":\"one\"}\n\n{\"msg\":\"two\"}").code == "200" }
    assert_equal ['{"msg":"one"}', '{"msg":"two"}'], found.sort
    assert_equal(
      { "lines" => 2 },
      JSON.parse(
        post(port, "/lines", Zlib.gzip("first\n  goes on\n"), type: "text/plain", "content-encoding": "gzip").body
      )
    )
    assert_includes found, "first\n  goes on"
  end

  # RFC 1952, section 2.2: a gzip file is a series of members; a sender may put several into one body.
  def test_a_body_of_several_members_is_taken_whole
    port = http
    body = Zlib.gzip("{\"msg\":\"one\"}\n") + Zlib.gzip("{\"msg\":\"two\"}\n{\"msg\":\"thr") + Zlib.gzip("ee\"}\n")
    assert_equal({ "lines" => 3 }, JSON.parse(post(port, "/lines", body, "content-encoding": "gzip").body))
    assert_equal %w[one three two], question.to_enum(:each).map(&:message).sort
  end

  def test_a_packed_body_that_ends_too_early_or_swells_is_refused_whole
    port = http
    {
      Zlib.gzip("{\"msg\":\"one\"}\n" * 5000)[0..-50] => "400", Zlib.gzip("x" * (70 << 20)) => "400", "" => "400"
    }.each do |body, status|
      answer = post(port, "/lines", body, "content-encoding": "gzip")
      assert_equal status, answer.code, answer.body.b
    end
    assert_empty found
  end

  def test_a_delivery_that_comes_again_is_taken_once
    port = http
    answers = Array.new(3) { post(port, "/lines", "{\"msg\":\"one\"}", "idempotency-key": "a1") }
    assert_equal [["200", '{"lines":1}']], answers.map { |answer| [answer.code, answer.body] }.uniq
    assert_equal [1, 2], [found.size, Store::Source.sole.repeated]
  end

  # Each with what is wrong, and nothing is taken.
  def test_what_is_wrong_with_a_request_is_said
    port = http
    {
      "401" => [post(port, "/lines", "x", token: "wrong"), "token"],
      "415" => [post(port, "/lines", "x", type: "image/png"), "content type"],
      "400" => [post(port, "/lines", "no gzip", "content-encoding": "gzip"), "gzip"],
      "404" => [post(port, "/elsewhere", "x"), "/v1/logs"], "413" => [post(port, "/lines", "x" * (17 << 20)), "bytes"]
    }.each do |status, (answer, words)|
      assert_equal status, answer.code
      assert_includes JSON.parse(answer.body)["detail"], words
    end
    answer = post(port, "/v1/logs", "{}[", type: "application/json")
    assert_equal ["400", "application/json"], [answer.code, answer.content_type]
    assert_includes JSON.parse(answer.body)["message"], "JSON"
    assert_empty found
  end

  # A JSON text of many objects is as many lines; so is one object for people, and lines stay what they are.
  def test_http_takes_lists_of_objects
    port = http
    objects = Array.new(3) { |index| { "time" => "2026-11-22T06:12:0#{index}Z", "msg" => "berth #{index}\ntaken" } }
    {
      JSON.generate(objects) => 3, JSON.pretty_generate(objects) => 3,
      "\n#{JSON.pretty_generate(objects.first)}\n" => 1, objects.map { |one| JSON.generate(one) }.join("\n") => 3
    }.each do |body, number|
      answer = post(port, "/lines", body, type: "application/json")
      assert_equal ["200", { "lines" => number }], [answer.code, JSON.parse(answer.body)], body
    end
    assert_equal 10, question("reader = json").total
    assert_equal 4, question('message ~ /berth 0\ntaken/').total
  end

  def follow(*globs)
    FileUtils.mkdir_p(File.join(@dir, "logs"))
    feed("follow", paths: globs.map { |glob| File.join(@dir, "logs", glob) }.join("\n"), machine: "alder")
    collect
  end

  def logged(name) = File.join(@dir, "logs", name)

  def append(name, *texts) = File.write(logged(name), texts.map { |text| "#{text}\n" }.join, mode: "a")

  def entry(number) = "Nov 23 10:00:#{format('%02d', number)} alder app[7]: entry #{number}"

  def test_a_file_that_grows_is_read_as_it_grows
    follow("*.log")
    append("app.log", entry(1), entry(2), "  goes on")
    assert_equal [entry(1), "#{entry(2)}\n  goes on"], come(2)
    append("app.log", entry(3))
    append("new.log", entry(4))
    come(4)
    assert_equal(
      { "app.log" => 4, "new.log" => 1 }, Store::Source.all.to_h { |source| [File.basename(source.name), source.lines] }
    )
  end

  # Names of files are bytes; people see them, and the database keeps them, as text.
  def test_names_of_files_that_are_no_ascii
    follow("*.log", "*/*.log")
    FileUtils.mkdir_p(File.join(@dir, "logs", "жук"))
    names = ["naïve.log", "caf\xE9.log".b, "жук/日本.log", "with blank.log", "tab\there.log"]
    names.each_with_index { |name, index| append(name, entry(index)) }
    come(names.size)
    names.each_with_index { |name, index| append(name, entry(10 + index)) }
    come(names.size * 2)
    kept = Store::Source.pluck(:name).map { |name| name.split("/logs/").last }
    assert_equal ["caf\\xE9.log", "naïve.log", "tab\there.log", "with blank.log", "жук/日本.log"].sort, kept.sort
    assert_equal [2] * names.size, Store::Source.pluck(:lines)
  end

  # Rotation as log rotation programs do it (common practice, no source): by renaming, by copying and truncating, and
  # packed afterwards.
  def test_rotation_loses_and_doubles_nothing
    follow("app.log*")
    folder = File.join(@dir, "logs")
    append("app.log", entry(1), entry(2))
    come(2)
    File.rename(File.join(folder, "app.log"), File.join(folder, "app.log.1"))
    append("app.log.1", entry(3))
    append("app.log", entry(4))
    come(4)
    FileUtils.cp(File.join(folder, "app.log"), File.join(folder, "app.log.copy"))
    File.truncate(File.join(folder, "app.log"), 0)
    append("app.log", entry(5))
    come(5)
    Zlib::GzipWriter.open(File.join(folder, "app.log.2.gz")) do |file|
      file.write("#{entry(1)}\n#{entry(2)}\n#{entry(3)}\n#{entry(6)}\n")
    end
    eventually { Store::Import.where(state: "waiting").any? }
    Intake::Jobs.new(@data).work(Store::Import.sole)
    assert_equal((1..6).map { |number| entry(number) }, come(6).sort)
  end

  # Of a large file, rotation that copies takes its time: what is there of the copy meanwhile is not new.
  def test_a_copy_that_is_still_written
    follow("app.log*")
    append("app.log", *(0...50).map { |number| "#{entry(number)} #{'x' * 200}" })
    come(50)
    path = logged("app.log")
    bytes = File.binread(path)
    File.open("#{path}.1", "wb") do |copy|
      bytes.bytes.each_slice(2000) do |piece|
        copy.write(piece.pack("C*"))
        copy.flush
        sleep 0.4
      end
    end
    File.truncate(path, 0)
    append("app.log", entry(51))
    come(51)
    sleep 4 # by then the copy is looked at
    come(51)
  end

  # Programs that are started together say the same at first, each into a file of its own.
  def test_files_that_start_alike_are_not_one
    banner = Array.new(40) { |number| "setting number #{number} has its usual value" }
    follow("worker-*.log")
    names = (1..3).map { |number| "worker-#{number}.log" }
    names.each { |name| append(name, *banner) && sleep(1) }
    come(40 * 3)
    names.each_with_index { |name, index| append(name, entry(index), entry(10 + index)) }
    come(42 * 3)
    assert_equal(
      names.to_h { |name| [name, 42] }, Store::Source.all.to_h { |source| [File.basename(source.name), source.lines] }
    )
    stop_collecting
    collect
    names.each_with_index { |name, index| append(name, entry(20 + index)) }
    come(43 * 3)
    assert_equal(
      names.to_h { |name| [name, 43] }, Store::Source.all.to_h { |source| [File.basename(source.name), source.lines] }
    )
  end

  # The same, after a stop while they were still alike.
  def test_files_that_are_alike_go_on_where_each_was
    follow("*.csv")
    %w[a.csv b.csv].each { |name| append(name, "time,level,message") }
    come(2)
    stop_collecting
    collect
    %w[a.csv b.csv].each_with_index { |name, index| append(name, "2026-11-23T10:00:0#{index}Z,warn,pump #{name}") }
    come(4)
    stop_collecting
    collect
    sleep 2
    come(4)
    assert_equal [2, 2], Store::Source.pluck(:lines)
  end

  # Most systems give a program 1,024 open files unless it asks for more.
  def test_more_files_than_a_program_may_open_at_first
    soft, hard = Process.getrlimit(Process::RLIMIT_NOFILE)
    Process.setrlimit(Process::RLIMIT_NOFILE, 200, hard)
    follow("*.log")
    Process.setrlimit(Process::RLIMIT_NOFILE, soft, hard)
    400.times { |index| append("unit-#{index}.log", "#{entry(index % 60)} of unit #{index}") }
    come(400)
    assert_nil Store::Feed.sole.problem
  ensure
    Process.setrlimit(Process::RLIMIT_NOFILE, soft, hard)
  end

  # A file that had a few bytes when it was found, and was then cut and written anew to more than it had: the start
  # tells.
  def test_a_file_that_was_short_and_is_written_anew
    follow("app.log")
    path = logged("app.log")
    File.write(path, entry(1)[0, 10])
    sleep 1
    append("app.log", "#{entry(1)[10..]} of a line that is long enough to tell one file from another")
    come(1)
    sleep 1.2
    anew =
      Array.new(3) do |index|
        "#{entry(1 + index)} written anew, and longer than what stood here before, so that the size tells nothing"
      end
    File.write(path, anew.map { |text| "#{text}\n" }.join)
    lines = come(4)
    assert_equal anew.sort, lines.select { |text| text.include?("written anew") }.sort
  end

  def test_a_file_goes_on_where_it_was_when_the_collector_was_killed
    follow("app.log")
    append("app.log", *(1..20).map { |number| entry(number) })
    come(20)
    Process.kill(:KILL, *processes.fetch("northdrift: collecting (test)"))
    append("app.log", *(21..40).map { |number| entry(number) })
    assert_equal((1..40).map { |number| entry(number) }, come(40))
  end

  def test_a_command_is_started_again
    feed("command", command: "echo \"$(date +%s.%N) tick\"", machine: "alder")
    collect
    eventually { found("tick").size >= 2 }
    assert_match(/ended with status 0; it is started again after \d+ s/, Store::Feed.sole.problem)
  end

  def test_what_stands_in_the_way_of_a_feed_is_said
    # In a process of its own: what the collector inherits would stay open with it.
    other =
      IO.popen(
        [
          RbConfig.ruby, "-rsocket", "-e",
          "server = TCPServer.new('127.0.0.1', 0); puts server.addr[1]; $stdout.flush; sleep"
        ]
      )
    port = other.gets.to_i
    feed("tcp", port: port)
    feed("follow", paths: File.join(@dir, "nowhere/*.log"))
    collect
    eventually { Store::Feed.all.all?(&:problem) }
    assert_equal ["127.0.0.1:#{port} is in use by another program", "nothing is there yet under #{@dir}/nowhere/*.log"],
                 Store::Feed.order(:id).map(&:problem)
    Process.kill(:KILL, other.pid)
    other.close
    eventually { Store::Feed.first.problem.nil? }
  end

  def test_a_feed_is_paused_changed_and_removed_while_others_run
    port = listener("tcp")
    sent = lambda do |text, at = port|
      TCPSocket.open("127.0.0.1", at) { |socket| socket.puts(syslog(text, number: text.sum)) }
    end
    sent.call("one")
    come(1)
    Store::Feed.sole.update!(paused: true)
    eventually("the port to be closed") do
      sent.call("lost") && nil
    rescue SystemCallError
      true
    end
    Store::Feed.sole.update!(paused: false, given: Store::Feed.sole.given.merge("port" => (other = free_port)))
    listening(other)
    sent.call("two", other)
    eventually { found("two").any? }
    assert_equal 1, Store::Source.count
  end

  # Rules that a person makes hold for what comes from then on.
  def test_rules_hold_for_what_comes_in
    Store::ParserRule.create!(
      name: "cranes", pattern: 'lifted (?P<load>\d+) kg', types: '{"load":"whole"}', created_us: 1, changed_us: 1
    )
    rule = Store::NoiseRule.create!(name: "beats", find: "heartbeat", action: "drop", created_us: 1)
    port = listener("tcp")
    number = 0
    send = lambda do
      texts = ["crane lifted 4711 kg", "heartbeat one", "heartbeat two"].map do |text|
        syslog(text, number: number += 1)
      end
      TCPSocket.open("127.0.0.1", port) { |socket| texts.each { |text| socket.puts(text) } }
      eventually { found("crane").size == number / 3 }
    end
    eventually("the rule to hold") { send.call && rule.reload.lines >= 2 }
    assert_operator question("load > 4000").total, :>=, 1
    came = found("heartbeat").size
    left_out = rule.lines
    assert_equal number / 3 * 2, came + left_out
    send.call
    eventually { rule.reload.lines == left_out + 2 }
    assert_equal came, found("heartbeat").size
    rule.update!(enabled: false)
    eventually("the rule to hold no more") do
      TCPSocket.open("127.0.0.1", port) { |socket| socket.puts(syslog("heartbeat again", number: number += 1)) }
      found("again").any?
    end
  end

  def test_rules_may_name_what_is_said_of_machines
    Store::Fleet.keep(Fleet::Roster.read("machine,role\nbirch,spare\n"))
    rule = Store::NoiseRule.create!(name: "spares", find: "host.role = spare chatter", action: "drop", created_us: 1)
    Store::LogbookRule.create!(
      name: "calls", kind: "change", find: "host.role = spare called", says: "{host.name} was called", enabled: true,
      created_us: 1
    )
    port = listener("tcp")
    TCPSocket.open("127.0.0.1", port) do |socket|
      [
        %w[birch chatter], %w[alder chatter], %w[alder called], %w[birch called]
      ].each_with_index { |(host, text), number| socket.puts(syslog(text, host: host, number: number)) }
    end
    assert_equal %w[alder alder birch], come(3).map { |line| line[/Z (\w+)/, 1] }.sort
    eventually { rule.reload.lines == 1 }
    assert_equal ["birch was called"], Store::Database.rows("SELECT says FROM happenings").flatten
  end

  # Positions are those of the database: a pause while lines are on their way must not read them again.
  def test_a_followed_table_keeps_the_names_of_its_columns
    path = write("jobs.csv", "timestamp,level,host,message,berth\n")
    feed("follow", paths: path)
    collect
    2.times do |part|
      File.open(path, "a") do |file|
        5.times { |index| file.write("2026-11-22 06:0#{part}:0#{index},info,quay,moved crate,#{index}\n") }
      end
      eventually { question("host.name = quay").total == 5 * (part + 1) }
    end
    assert_equal 2, question("berth = 4 reader = csv").total
  end

  def test_a_followed_file_is_paused_while_it_is_read
    follow("app.log")
    append("app.log", *(1..30_000).map { |number| "2026-11-23T10:00:00Z alder app: entry #{number}" })
    eventually { question("entry").total.positive? }
    3.times do
      Store::Feed.sole.update!(paused: true)
      sleep 0.7
      Store::Feed.sole.update!(paused: false)
      sleep 0.4
    end
    eventually { question("entry").total >= 30_000 }
    sleep 0.5
    assert_equal [*1..30_000], found("entry").map { |text| text[/entry (\d+)/, 1].to_i }.sort
  end

  # Set up on the pages, a source stays within its folders, whatever is linked there.
  def test_no_link_leads_out_of_the_folders_that_are_allowed
    folder = FileUtils.mkdir_p(File.join(@dir, "logs")).first
    outside = write("elsewhere/secret.log", "2026-11-23T10:00:00Z alder app: entry secret\n")
    File.symlink(outside, File.join(folder, "linked.log"))
    File.symlink(File.dirname(outside), File.join(folder, "deep"))
    write("logs/own.log", "2026-11-23T10:00:00Z alder app: entry own\n")
    File.symlink(File.join(folder, "own.log"), File.join(folder, "alias.log"))
    source = feed("follow", paths: "#{folder}/*.log\n#{folder}/*/*.log")
    source.update!(given: source.given.merge("within" => [folder]))
    collect
    assert_equal ["2026-11-23T10:00:00Z alder app: entry own"], come(1)
  end

  # Tokens cannot be tried one after another; who was let in before still is.
  def test_who_sends_wrong_tokens_is_not_looked_at_for_a_while
    port = http
    assert_equal "200", post(port, "/lines", "one").code
    answers = Array.new(22) { |number| post(port, "/lines", "x", token: "wrong-#{number}").code }
    assert_equal [["401"] * 20, ["429"] * 2], [answers.first(20), answers.last(2)]
    assert_equal "200", post(port, "/lines", "two").code
    assert_equal 2, come(2).size
  end

  # TCP acknowledges nothing: what was received before an orderly stop must be written all the same.
  def test_an_orderly_stop_writes_what_was_received
    port = listener("tcp")
    TCPSocket.open("127.0.0.1", port) do |socket|
      20_000.times { |number| socket.write("#{syslog("entry #{number}", number: number)}\n") } && socket.close_write &&
        socket.read
    end
    stop_collecting
    assert_equal 20_000, question("entry").total
  end
end
