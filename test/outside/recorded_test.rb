# frozen_string_literal: true

require_relative "../test_helper"
require "csv"
require "json"

# Logs that real programs wrote (recorded/record says which, and how), field by field: against what the programs'
# documentation says of the format, and against the same events where a program writes them in two forms. The machine
# stood in Oslo.
class RecordedTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  FOLDER = File.join(__dir__, "recorded")
  # Events by reader. What is plain says so in a program's own words: a heading, or a line that leaves its format out.
  READERS = {
    "access.json" => { json: 4 }, "brackets-error.log" => { web_error: 10 }, "broker.log" => { stamped: 5 },
    "combined.log" => { access_log: 4 }, "common.log" => { access_log: 5 }, "database.csv" => { database: 32 },
    "database.json" => { database_json: 32 }, "database.log" => { database: 32 },
    "journal.export" => { journal_export: 4 }, "journal.json" => { journal_json: 4 }, "journal.short" => { rfc3164: 4 },
    "journal.short-full" => { rfc3164: 4 }, "journal.short-iso" => { rfc3164: 4 },
    "journal.short-precise" => { rfc3164: 4 }, "local-syslog.log" => { rfc3164: 12 }, "names.log" => { rfc3164: 5 },
    "proxy.log" => { stamped: 43 }, "python-brackets.log" => { stamped: 5 }, "python-level-first.log" => { stamped: 5 },
    "python-server.log" => { plain: 1, access_log: 2, within: 1 }, "python-zone.log" => { stamped: 5 },
    "resolver.log" => { stamped: 7 }, "ruby-logger.log" => { within: 1, ruby_logger: 6 },
    "second-database.log" => { database: 30 }, "slashes-error.log" => { web_error: 16 }, "store.log" => { stamped: 11 },
    "vhost.log" => { access_log: 5 }, "balancer.log" => { proxy: 3 }, "clock.log" => { stamped: 4 },
    "collector.log" => { stamped: 2 }, "files.log" => { headed: 24 }, "java.log" => { headed: 3 },
    "mailbox.log" => { stamped: 10 }, "printing.log" => { lettered: 41 }, "proxy-access.log" => { proxy: 3 },
    "radius.log" => { stamped: 12 }, "reports.log" => { headed: 3 }, "scripts.log" => { stamped: 4 },
    "servlets.log" => { stamped: 37 }, "slow-statements.log" => { statements: 4 },
    "statements.log" => { statements: 20 }, "transfers.log" => { stamped: 6 }, "tunnel.log" => { stamped: 16 },
    "workers.log" => { stamped: 5 }, "xferlog.log" => { stamped: 1 }, "zones.log" => { stamped: 10 }
  }.freeze

  def recorded(name) = File.binread(File.join(FOLDER, name))
  def lines(name) = recorded(name).lines(chomp: true)
  def events(name, zone: "Europe/Oslo") = records(recorded(name), zone: zone, reference: Time.utc(2026, 11, 26, 12))

  def told(event, *names)
    event.fields.values_at(*names).map { |value| value.is_a?(String) ? Text.utf8(value) : value }
  end

  READERS.each do |name, readers|
    define_method("test_every_line_of_#{name}_has_its_reader_and_is_given_back") do
      found = events(name)
      assert_equal recorded(name), whole(found)
      assert_equal(readers, found.map(&:reader).tally, found.find { |event| event.reader == :plain }&.raw)
      found.each { |event| assert_equal event.reader != :plain, event.stamped, event.raw }
      # However the file is cut where records surely begin, they are the same.
      [1, 7, 64].each do |size|
        assert_equal found.map(&:message), records(recorded(name), zone: "Europe/Oslo", chunk: size).map(&:message),
                     "in pieces of #{size} bytes"
      end
    end
  end

  # What these hold is told by truth.yml, from the manuals.
  RecordedTruth.names.each do |name|
    define_method("test_#{name}_is_read_as_its_manual_says") do
      truth = RecordedTruth.new(name)
      found = records(truth.text, zone: "Europe/Oslo", reference: Time.utc(2026, 11, 29, 12))
      assert_equal truth.text.b, whole(found)
      score = truth.score(found)
      assert_empty score.wrong
      assert_operator score.records[1], :>, 0
      [1, 7, 64].each do |size|
        again = records(truth.text, zone: "Europe/Oslo", reference: Time.utc(2026, 11, 29, 12), chunk: size)
        assert_equal found.map(&:message), again.map(&:message), "in pieces of #{size} bytes"
      end
    end
  end

  # Banners without a time, and lines of the kernel's ring: in part what they are is for nobody to say.
  UNDATED = { "gateway.log" => 37, "ruby-workers.log" => 19, "kernel-levels.log" => 60, "exchange.log" => 14,
              "second-chat.log" => 21, "containers.log" => 27 }.freeze

  def test_files_of_which_lines_have_no_time
    UNDATED.each { |name, size| assert_equal size, events(name).size, name }
    levels = events("kernel-levels.log").values_at(1, 2).map { |event| Severity.name(event.severity) }
    assert_equal %w[notice informational], levels
  end

  def test_nothing_that_was_recorded_is_left_out
    told = READERS.keys | RecordedTruth.names | UNDATED.keys
    assert_equal told.grep_v(%r{\Aagain/}).sort,
                 (Dir.children(FOLDER) - %w[again record record-others truth.yml]).sort
    again = Dir.children(File.join(FOLDER, "again")) - %w[again.yml gateway.log] # whose lines have no time, as above
    assert_equal told.grep(%r{\Aagain/}).sort, again.map { |name| "again/#{name}" }.sort
  end

  # PostgreSQL documentation, "Error Reporting and Logging": message severity levels and how syslog has them.
  SEVERITIES = { "LOG" => "informational", "WARNING" => "warning", "ERROR" => "error", "FATAL" => "critical" }.freeze
  # The table of the columns of its format csvlog, as far as they are filled in here: place from 0.
  COLUMNS = {
    1 => "user.name", 2 => "db.namespace", 3 => "process.pid", 4 => "source.address", 5 => "session.id",
    7 => "db.operation.name", 10 => "db.transaction.id", 12 => "db.response.status_code", 14 => "db.detail",
    15 => "db.hint", 18 => "db.context", 19 => "db.query.text", 22 => "service.instance"
  }.freeze
  # The same in its format jsonlog, by key.
  KEYS = {
    1 => "user", 2 => "dbname", 3 => "pid", 4 => "remote_host", 5 => "session_id", 7 => "ps", 10 => "txid",
    12 => "state_code", 14 => "detail", 15 => "hint", 18 => "context", 19 => "statement", 22 => "application_name"
  }.freeze

  # Ruby's library csv reads the file by its columns.
  def test_a_database_servers_separated_values
    rows = CSV.parse(recorded("database.csv").force_encoding("UTF-8"))
    rows.zip(events("database.csv")) do |row, event|
      assert_equal Time.strptime("#{row[0].delete_suffix(' CET')}+0100", "%Y-%m-%d %H:%M:%S.%L%z"), event.time
      assert_equal [SEVERITIES.fetch(row[11]), row[13], "database"],
                   [Severity.name(event.severity), Text.utf8(event.message), event.service]
      COLUMNS.each do |at, name|
        row[at].to_s.empty? ? refute_includes(event.fields, name) : assert_equal([row[at]], told(event, name), name)
      end
    end
  end

  # Ruby's library json reads each line by its keys.
  def test_a_database_servers_json
    lines("database.json").zip(events("database.json")) do |line, event|
      object = JSON.parse(line)
      assert_equal [SEVERITIES.fetch(object["error_severity"]), object["message"], "database"],
                   [Severity.name(event.severity), Text.utf8(event.message), event.service]
      assert_equal Time.strptime("#{object['timestamp'].delete_suffix(' CET')}+0100", "%Y-%m-%d %H:%M:%S.%L%z"),
                   event.time
      KEYS.each do |at, key|
        if object[key].to_s.empty?
          refute_includes(event.fields, COLUMNS[at])
        else
          assert_equal([object[key].to_s], told(event, COLUMNS[at]), key)
        end
      end
      assert_equal [object["backend_type"], object["line_num"]], told(event, "backend_type", "line_num")
    end
  end

  # The server wrote each event three times, at once. Its text has less: no session, and the place of a mistake in the
  # message's own words; lines of a statement but the first start with a tab.
  def test_a_database_server_says_the_same_in_all_its_formats
    text, separated, json = %w[database.log database.csv database.json].map { |name| events(name, zone: "UTC") }
    common = lambda do |event|
      [event.time_us, event.severity, event.service, Text.utf8(event.message), *told(event, *COLUMNS.values)]
    end
    assert_equal separated.map(&common), json.map(&common).each { |values| values[11] ||= "00000" },
                 "success is left out in JSON"
    separated.zip(text) do |full, short|
      assert_equal [full.time_us, full.severity, Text.utf8(full.message)],
                   [short.time_us, short.severity, Text.utf8(short.message).sub(%r{ at character \d+\z}, "")]
      assert_equal told(full, "process.pid", "db.detail", "db.hint", "db.context"),
                   told(short, "process.pid", "db.detail", "db.hint", "db.context")
      unless short.fields.key?("duration_ms")
        assert_equal(
          told(full, "db.query.text"), told(short, "db.query.text").map { |query| query&.gsub("\n\t", "\n") }
        )
      end
    end
    slow = text.find { |event| event.fields.key?("duration_ms") }
    assert_equal "duration: #{format('%.3f', slow.fields['duration_ms'])} ms  statement: select pg_sleep(0.05);",
                 slow.message
    assert_operator slow.fields["duration_ms"], :>=, 50
  end

  # MariaDB documentation, "Error Log": time, thread, level in brackets, message.
  def test_another_database_servers_errors
    lines("second-database.log").grep_v(/\AVersion: /).zip(events("second-database.log")) do |line, event|
      day, clock, thread, level, message = line.split(" ", 5)
      assert_equal [Time.strptime("#{day} #{clock} +0100", "%Y-%m-%d %H:%M:%S %z"), thread, message],
                   [event.time, event.fields["thread.id"], event.message.lines(chomp: true).first]
      assert_equal(
        { "[Note]" => "notice", "[Warning]" => "warning", "[ERROR]" => "error" }.fetch(level),
        Severity.name(event.severity)
      )
    end
  end

  # The server wrote each request as a line of Combined and as JSON.
  def test_a_web_servers_requests_in_two_formats
    lines("access.json")
      .map { |line| JSON.parse(line) }
      .zip(events("combined.log"), events("access.json")) do |object, line, json|
        assert_equal [Time.iso8601(object["time_iso8601"]), object["remote_addr"], object["status"]],
                     [line.time, *told(line, "client.address", "http.response.status_code")]
        assert_equal object["request"], Text.utf8(line.message).gsub("\\x22", '"')
        assert_equal [line.time, line.severity, object["remote_addr"], object["status"], object["request"]],
                     [json.time, json.severity, *told(json, "source.address", "status", "request")]
        assert_equal object["request"], Text.utf8(json.message), "what was asked for stands in for a message"
        assert_equal %w[http://ref.example/ GET 1.1],
                     told(line, "http.request.header.referer", "http.request.method", "network.protocol.version")
      end
    assert_equal(
      %w[informational warning error warning], events("combined.log").map { |event| Severity.name(event.severity) }
    )
  end

  # Another server wrote each request as Common, and with its own name and port before it ("%v:%p", Apache
  # documentation, mod_log_config).
  def test_a_web_servers_requests_with_the_servers_name
    events("common.log").zip(events("vhost.log")) do |common, named|
      assert_equal ["hall.example", 80], told(named, "server.address", "server.port")
      assert_equal [common.time, common.severity, common.message], [named.time, named.severity, named.message]
      unless common.fields["http.response.body.size"] != named.fields["http.response.body.size"]
        assert_equal [common.fields.keys, common.fields.values], [common.fields.keys, told(named, *common.fields.keys)]
      end
      assert_equal told(common, "client.address", "user.name", "url.original", "http.response.status_code"),
                   told(named, "client.address", "user.name", "url.original", "http.response.status_code")
    end
    login, nonsense = events("vhost.log").values_at(2, 4)
    assert_equal ["ida", "/login", 500], told(login, "user.name", "url.original", "http.response.status_code")
    assert_equal ["NONSENSE", nil, 400],
                 [nonsense.message, *told(nonsense, "http.request.method", "http.response.status_code")]
  end

  # Apache documentation, "ErrorLogFormat": [%{u}t] [%-m:%l] [pid %P:tid %T] %7F: %E: [client\ %a] %M
  def test_errors_of_a_web_server_in_brackets
    lines("brackets-error.log").zip(events("brackets-error.log")) do |line, event|
      time, source, process, = line.scan(/\[([^\]]*)\]/).flatten
      assert_equal Time.strptime("#{time} +0100", "%a %b %d %H:%M:%S.%N %Y %z"), event.time
      assert_equal [*process.scan(/\d+/), source.split(":").first],
                   told(event, "process.pid", "thread.id", "web.module")
      assert_equal source.split(":").last.sub(/\Ainfo\z/, "informational"), Severity.name(event.severity)
      client = line[/\[client ([^\]]+)\]/, 1].to_s.split(":")
      assert_equal client, told(event, "client.address", "client.port").compact.map(&:to_s)
      assert line.end_with?(event.message)
    end
  end

  # What a request asked for stands in quotes, which are not escaped (nginx documentation, "error_log", and the lines
  # themselves).
  def test_errors_of_a_web_server_with_slashes
    found = events("slashes-error.log")
    missing, refused, forbidden = found.select { |event| event.severity == Severity::ERROR }
    assert_equal [
      'GET /none?a=b%20c&q="x" HTTP/1.1', "127.0.0.1", "hall.example", "127.0.0.1:8801",
      "http://ref.example/", "1"
    ],
                 told(
                   missing, "http.request", "client.address", "server.name", "http.host", "http.request.header.referer",
                   "connection.id"
                 )
    assert_equal ["http://127.0.0.1:9/up/x", "GET /up/x HTTP/1.1"], told(refused, "upstream.address", "http.request")
    assert_equal ["GET /secret HTTP/1.1", nil], told(forbidden, "http.request", "upstream.address")
    lines("slashes-error.log").zip(found) do |line, event|
      assert_equal Time.strptime("#{line[0, 19]} +0100", "%Y/%m/%d %H:%M:%S %z"), event.time
      assert_equal line.match(/(\d+)#(\d+):/).captures, told(event, "process.pid", "thread.id")
      assert_equal line[/\[(\w+)\]/, 1].sub(/\Ainfo\z/, "informational"), Severity.name(event.severity)
    end
  end

  # Python's http.server leaves the zone out, and has a blank where the format has a colon.
  def test_requests_without_a_zone
    first, second = events("python-server.log").select { |event| event.reader == :access_log }
    assert_equal [%i[zone], "/hall.html", 200],
                 [first.inferred, *told(first, "url.original", "http.response.status_code")]
    assert_equal ["/none", 404], told(second, "url.original", "http.response.status_code")
    assert_equal recorded("python-server.log")[/\[(.*?)\]/, 1],
                 first.time.getlocal("+01:00").strftime("%d/%b/%Y %H:%M:%S")
  end

  # systemd wrote its journal in two formats: each entry must be read the same from both.
  def test_a_journal_says_the_same_in_both_its_formats
    kept = lambda do |event|
      [event.time_us, event.severity, event.machine, event.service, event.message, event.fields.sort, event.constants]
    end
    exported = events("journal.export")
    assert_equal exported.map(&kept), events("journal.json").map(&kept)
    objects = lines("journal.json").map { |line| JSON.parse(line) }
    objects.zip(exported) do |object, event|
      assert_equal [
        (object["_SOURCE_REALTIME_TIMESTAMP"] || object["__REALTIME_TIMESTAMP"]).to_i,
        object["PRIORITY"].to_i
      ], [event.time_us, event.severity]
      assert_equal object.values_at("_HOSTNAME", "SYSLOG_IDENTIFIER", "_PID", "_BOOT_ID", "_EXE"),
                   [
                     event.machine, event.service,
                     *told(event, "process.pid", "host.boot.id", "process.executable.path")
                   ]
    end
    assert_equal ["one\ntwo\xFF!".b, "error", "printerd"],
                 [exported.last.message, Severity.name(exported.last.severity), exported.last.service]
  end

  # journalctl(1) prints the same entries for people, with times of different make.
  def test_a_journal_as_it_is_printed
    exported = events("journal.export")
    {
      "short" => 1_000_000, "short-iso" => 1_000_000, "short-full" => 1_000_000, "short-precise" => 1
    }.each do |form, step|
      exported.zip(
        events("journal.#{form}", zone: %w[short short-precise].include?(form) ? "Europe/Oslo" : "UTC")
      ) do |entry, line|
        assert_equal [entry.time_us / step, entry.machine, entry.service, entry.fields["process.pid"]],
                     [line.time_us / step, line.machine, line.service, line.fields["process.pid"]], form
        assert_equal entry.message, line.message, form unless entry.message.include?("\n")
      end
    end
  end

  # RFC 3164, section 4.1.1: facility * 8 + severity. The host is left out on the way to the machine's own syslog
  # (syslog(3) of glibc).
  def test_what_reaches_the_machines_own_syslog
    lines("local-syslog.log").zip(events("local-syslog.log")) do |line, event|
      number, tag, process, message = line.match(/\A<(\d+)>.{15} ([\w-]+)(?:\[(\d+)\])?: (.*)\z/).captures
      assert_equal [number.to_i % 8, Reading::Syslog::FACILITIES[number.to_i / 8], tag, process, message, nil],
                   [
                     event.severity, event.constants["syslog.facility"], event.service, event.fields["process.pid"],
                     event.message, event.machine
                   ]
    end
    lines("local-syslog.log").zip(events("local-syslog.log")) do |line, event|
      assert_equal line[/>(.{15})/, 1], event.time.getlocal("+01:00").strftime("%b %e %H:%M:%S")
    end
    assert_equal(
      %w[sshd], events("local-syslog.log").select { |event| event.message.start_with?("Invalid user") }.map(&:service)
    )
  end

  # Ruby documentation, Logger::Formatter: SeverityID, [DateTime #pid] SeverityLabel -- ProgName: message
  def test_rubys_logger
    _, *found = events("ruby-logger.log")
    assert_equal(
      [
        ["informational", nil, "booking BK-1 stored"], ["warning", "bookingd", "slow: took=812ms"],
        ["error", "bookingd", "no seat (ArgumentError)\n-e:1:in `<main>'"], ["debug", "bookingd", "pool: 3"],
        %w[critical bookingd gone], %w[unset bookingd any]
      ], found.map { |event| [Severity.name(event.severity), event.service, event.message] }
    )
    assert_equal ["812ms"], told(found[1], "took")
    lines("ruby-logger.log").grep(/\A[A-Z], /).zip(found) do |line, event|
      assert_equal [line[/#(\d+)/, 1], Time.strptime("#{line[/\[(\S+)/, 1]}+0100", "%Y-%m-%dT%H:%M:%S.%N%z")],
                   [event.fields["process.pid"], event.time]
    end
  end

  # Python documentation, "LogRecord attributes": asctime has the time to the millisecond behind a comma, unless told
  # otherwise.
  def test_pythons_logging
    {
      "python-level-first.log" => true, "python-brackets.log" => false, "python-zone.log" => false
    }.each do |name, first|
      found = events(name)
      assert_equal(
        %w[informational warning error critical debug], found.map { |event| Severity.name(event.severity) }, name
      )
      assert_match(/no seat\nTraceback \(most recent call last\):\n.*KeyError: 'seat'\z/m, found[2].message, name)
      assert_equal first, found[1].body.include?("WARNING 2026-"), name
      assert_equal recorded(name)[/\d\d:\d\d:\d\d/], found[0].time.getlocal("+01:00").strftime("%H:%M:%S"), name
    end
    assert_empty events("python-zone.log", zone: "Asia/Tokyo")[0].inferred
  end

  def test_small_servers
    store = events("store.log")
    assert_equal [
      "# Configuration loaded",
      Time.strptime("#{lines('store.log')[2][7, 24]} +0100", "%d %b %Y %H:%M:%S.%L %z")
    ], [store[2].message, store[2].time]
    assert_equal "warning", Severity.name(store.find { |event| event.message.include?("overcommit") }.severity)
    names = events("names.log")
    assert_equal [%w[dnsmasq], [recorded("names.log")[/\[(\d+)\]/, 1]], "warning"],
                 [
                   names.map(&:service).uniq, names.map { |event| event.fields["process.pid"] }.uniq,
                   Severity.name(names[2].severity)
                 ]
    resolver = events("resolver.log")
    assert_equal [%w[unbound], %w[notice informational], lines("resolver.log").first[/\d{10}/].to_i],
                 [
                   resolver.map(&:service).uniq, resolver.map { |event| Severity.name(event.severity) }.uniq,
                   resolver[0].time.to_i
                 ]
    broker = events("broker.log")
    assert_equal [lines("broker.log").first.to_i, lines("broker.log").first[/: (.*)/, 1]],
                 [broker[0].time.to_i, broker[0].message]
    proxy = events("proxy.log")
    assert_equal [
      "Service Name: squid", Time.strptime("#{lines('proxy.log')[2][0, 19]} +0100", "%Y/%m/%d %H:%M:%S %z")
    ], [proxy[2].message, proxy[2].time]
    assert(proxy.any? { |event| event.message.lines.size == 4 && event.message.include?("Maximum Resident Size") })
  end

  # HAProxy Configuration Manual, 8.2.3 (HTTP log format) and 8.2.2 (TCP log format): fields parted by blanks, timers
  # and counts by slashes.
  def test_a_load_balancers_requests
    lines("balancer.log").zip(events("balancer.log")) do |line, event|
      client, time, frontend, backend, timers, = line.split
      assert_equal Time.strptime("#{time[1..-2]} +0100", "%d/%b/%Y:%H:%M:%S.%L %z"), event.time
      assert_equal [*client.split(":").then { |address, port| [address, port.to_i] }, frontend, *backend.split("/")],
                   told(event, "client.address", "client.port", "proxy.frontend", "proxy.backend", "proxy.server")
      assert_equal timers.split("/").last.to_i, event.fields["duration_ms"]
    end
    page, missing, mail = events("balancer.log")
    assert_equal [200, "----", "GET", "/hall.html", "informational"],
                 [
                   *told(page, "http.response.status_code", "session.state", "http.request.method", "url.original"),
                   Severity.name(page.severity)
                 ]
    assert_equal [404, "/none?a=%22", "warning"],
                 [*told(missing, "http.response.status_code", "url.original"), Severity.name(missing.severity)]
    # The server was not there: it was tried three times more, and the session ended in the connecting phase (8.5,
    # "SC").
    assert_equal [nil, "SC", 3, "warning"],
                 [*told(mail, "connect_ms", "session.state", "retries"), Severity.name(mail.severity)]
  end

  # Squid documentation, "Features/LogFormat", native: time, duration, client, result/status, bytes, method, URL, user,
  # hierarchy/peer, type.
  def test_a_proxys_requests
    lines("proxy-access.log").zip(events("proxy-access.log")) do |line, event|
      time, duration, client, result, bytes, method, url, _, hierarchy, type = line.split
      word, status = result.split("/")
      choice, peer = hierarchy.split("/")
      assert_equal [
        Rational(time), duration.to_i, client, word, status.to_i, bytes.to_i, method, url, choice,
        (peer unless peer == "-"), type
      ],
                   [
                     event.time.to_r,
                     *told(
                       event, "duration_ms", "client.address", "cache.result", "http.response.status_code",
                       "http.response.body.size", "http.request.method", "url.original", "upstream.choice",
                       "upstream.address", "http.response.content_type"
                     )
                   ]
    end
    assert_equal(%w[error warning warning], events("proxy-access.log").map { |event| Severity.name(event.severity) })
  end

  # MariaDB documentation, "General Query Log": time, connection, command and argument between tabs. The time stands
  # where the second is another.
  def test_what_a_database_server_was_asked
    day = nil
    _, *found = events("statements.log")
    lines("statements.log").drop(3).grep(/\t *\d+ [A-Z]/).zip(found) do |line, event|
      *stamp, command, argument = line.split("\t", -1)
      day = stamp.first unless stamp.all?(&:empty?)
      connection, command = command.split(" ", 2)
      assert_equal [Time.strptime("#{day} +0100", "%y%m%d %H:%M:%S %z"), connection, command],
                   [event.time, *told(event, "connection.id", "db.operation.name")]
      assert_equal command == "Query" ? argument : "#{command}\t#{argument}".rstrip, event.message.lines.first.chomp
    end
    assert_includes found.map(&:message), "insert into seats\n  values (7, 'tar')"
    assert_equal(
      ["Connect\tAccess denied for user 'ida'@'localhost' (using password: YES)"],
      found.select { |event| event.severity == Severity::WARNING }.map(&:message)
    )
  end

  # MariaDB documentation, "Slow Query Log Overview". The statements slept so many milliseconds; the second's head
  # leaves the time out.
  def test_what_took_a_database_server_long
    _, *found = events("slow-statements.log")
    assert_equal ["select sleep(0.05),\n  count(*) from seats;", "select sleep(0.03);", "select sleep(0.04);"],
                 found.map(&:message)
    [50, 30, 40].zip(found) { |least, event| assert_includes (least..least + 20), event.fields["duration_ms"] }
    assert_equal(
      recorded("slow-statements.log").scan(/^SET timestamp=(\d+)/).flatten.map(&:to_i),
      found.map { |event| event.time.to_i }
    )
    assert_equal([[], []], found[1, 2].map(&:inferred).map { |names| names - [:zone] })
    found.each do |event|
      assert_equal ["root", "localhost", "hall", 1],
                   told(event, "user.name", "client.address", "db.namespace", "db.response.returned_rows")
    end
  end

  LEVELS = {
    "info" => "informational", "deprecated" => "warning", "fatal error" => "critical", "severe" => "critical"
  }.freeze

  # Each with a time as strptime(3) has it, and a level somewhere behind.
  {
    "zones.log" => ["%d-%b-%Y %H:%M:%S.%L", /\A.{24} [\w-]+: (\w+)/],
    "mailbox.log" => ["%b %d %H:%M:%S", /\A.{16}\S+: (\w+): /], "radius.log" => ["%a %b %d %H:%M:%S %Y", / : (\w+): /],
    "servlets.log" => ["%d-%b-%Y %H:%M:%S.%L", /\A.{24} ([A-Z]+) /],
    "workers.log" => ["[%d-%b-%Y %H:%M:%S", /\] ([A-Z]+): /], "scripts.log" => ["[%d-%b-%Y %H:%M:%S", /PHP ([\w ]+): /],
    "transfers.log" => ["%a %b %d %H:%M:%S %Y", nil], "tunnel.log" => ["%Y-%m-%d %H:%M:%S", nil],
    "xferlog.log" => ["%a %b %d %H:%M:%S %Y", nil]
  }.each do |name, (form, level)|
    define_method("test_times_and_levels_of_#{name}") do
      events(name).each do |event|
        # strptime() leaves alone what follows.
        time = DateTime._strptime(event.raw, form)
        assert_equal time.values_at(:mon, :mday, :hour, :min, :sec),
                     event.time.getlocal("+01:00").then { |own| [own.mon, own.day, own.hour, own.min, own.sec] },
                     event.raw
        word = level && event.raw[level, 1]&.downcase
        assert_equal LEVELS.fetch(word, word), Severity.name(event.severity), event.raw if word
        assert_nil event.machine, event.raw
      end
    end
  end

  def test_a_zone_with_its_whole_name
    assert_equal events("scripts.log").map(&:time), events("scripts.log", zone: "Asia/Tokyo").map(&:time)
    assert_empty events("scripts.log").flat_map(&:inferred)
    assert_equal 5, events("scripts.log").last.message.lines.size
  end

  # Samba: a head with the time, a level and the place in its code; the text stands below, indented.
  def test_a_file_servers_text_below_its_heads
    heads = lines("files.log").grep(/\A\[/)
    heads.zip(events("files.log")) do |head, event|
      time, level = head[1..].split(/[,\]]/)
      assert_equal [Time.strptime("#{time} +0100", "%Y/%m/%d %H:%M:%S.%N %z"), level.strip],
                   [event.time, event.fields["log.level.number"]]
      assert_equal(
        head[/\] (.*)\z/, 1],
        told(event, "code.file.path", "code.line.number", "code.function.name").then do |path, line, function|
          "#{path}:#{line}(#{function})"
        end
      )
    end
    assert_equal lines("files.log")[1].strip, events("files.log").first.message.lines.first.chomp
  end

  # CUPS documentation, error_log: level date-time message.
  def test_a_print_servers_letters
    lines("printing.log").zip(events("printing.log")) do |line, event|
      letter, rest = line.split(" [", 2)
      time, message = rest.split("] ", 2)
      assert_equal [
        { "I" => "informational", "W" => "warning", "E" => "error", "N" => "notice" }.fetch(letter),
        Time.strptime(time, "%d/%b/%Y:%H:%M:%S %z"), message
      ], [Severity.name(event.severity), event.time, event.message]
    end
  end

  # Java's runtime wrote both files in one run: its own collector's has the offset from UTC.
  def test_a_java_program
    found = events("java.log")
    assert_equal(
      [
        ["informational", "stored BK-1"], ["warning", "slow: took=812ms"],
        ["critical", "gone\njava.lang.IllegalStateException: no seat\n\tat Hall.main(Hall.java:7)"]
      ], found.map { |event| [Severity.name(event.severity), event.message] }
    )
    found.each { |event| assert_equal %w[Hall main], told(event, "logger.name", "code.function.name") }
    collected = events("collector.log", zone: "Asia/Tokyo")
    assert_equal Time.iso8601(lines("collector.log").last[/\[(.*?)\]/, 1].sub(/(\d\d)\z/, ":\\1")), collected.last.time
    assert_in_delta found.last.time.to_f, collected.last.time.to_f, 1.5
    assert_equal %w[informational], collected.map { |event| Severity.name(event.severity) }.uniq
  end

  # Erlang/OTP documentation, logger_formatter, legacy_header.
  def test_reports_of_an_erlang_system
    assert_equal(
      [["notice", "stored 1"], ["error", "seat: 7"], ["error", "Error in process <0.79.0> with exit value:"]],
      events("reports.log").map { |event| [Severity.name(event.severity), event.message.lines.first.chomp] }
    )
    assert_equal(
      recorded("reports.log")
        .scan(/==== (\S+) ===/)
        .flatten
        .map { |time| Time.strptime("#{time} +0100", "%d-%b-%Y::%H:%M:%S.%N %z") }, events("reports.log").map(&:time)
    )
  end

  # Each transfer stands in both of the server's files.
  def test_a_file_transfer
    transfer = events("transfers.log").find { |event| event.message.include?("OK DOWNLOAD") }
    assert_equal [transfer.time, lines("transfers.log").grep(/OK DOWNLOAD/).first[/pid (\d+)/, 1]],
                 [events("xferlog.log").first.time, transfer.fields["process.pid"]]
  end

  # Each server was started, and ended or killed; what strangers tried was refused: the logbook knows from the files
  # alone.
  {
    "brackets-error.log" => %w[service-start service-stop], "broker.log" => %w[service-start service-stop],
    "clock.log" => %w[service-start service-stop], "database.log" => %w[service-start service-stop],
    "files.log" => %w[service-start], "local-syslog.log" => %w[account logon-failure service-start],
    "mailbox.log" => %w[logon-failure service-start service-stop], "names.log" => %w[service-start service-stop],
    "proxy.log" => %w[service-start service-stop], "radius.log" => %w[service-start service-stop],
    "resolver.log" => %w[service-start service-stop], "scripts.log" => %w[service-failure],
    "second-database.log" => %w[logon-failure service-start service-stop],
    "servlets.log" => %w[service-start service-stop],
    "slashes-error.log" => %w[service-failure service-start service-stop],
    "store.log" => %w[service-start service-stop], "tunnel.log" => %w[service-start service-stop],
    "workers.log" => %w[service-start service-stop], "zones.log" => %w[address service-start service-stop]
  }.each do |name, kinds|
    define_method("test_what_happened_by_#{name}") do
      found = events(name).filter_map { |event| Logbook::Catalogue.shipped.read(event, name) }
      assert_equal kinds, found.map(&:kind).uniq.sort, found.map(&:says)
    end
  end

  # Nothing of what was asked or transferred is taken for a happening.
  %w[
    access.json balancer.log combined.log common.log proxy-access.log python-server.log slow-statements.log
    statements.log transfers.log vhost.log xferlog.log
  ].each do |name|
    define_method("test_nothing_happened_by_#{name}") do
      assert_empty(events(name).filter_map { |event| Logbook::Catalogue.shipped.read(event, name)&.says })
    end
  end
end
