# frozen_string_literal: true

require_relative "../test_helper"
require "json"

# Formats whose records span lines, or that wrap what a program wrote.
class ReadersTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  # @return [Array<Array>] reader, severity, machine, service, message and fields
  def told(text)
    records(text).map do |event|
      [
        event.reader, Severity.name(event.severity), event.machine, event.service, Text.utf8(event.message),
        event.fields
      ]
    end
  end

  # Where systems put level and facility as words: syslogd(8) of FreeBSD, option -v; AIX; log(4D) of illumos; macOS's
  # system.log; traffic managers (common practice).
  {
    "Nov 22 06:12:08 <kern.crit> hall kernel: no" => %w[critical hall kernel no kern],
    "Nov 22 06:12:08 hall auth|security:info sshd[12]: in" => %w[informational hall sshd in auth],
    "Nov 22 06:12:08 hall daemon:err|error snmpd[12]: no" => %w[error hall snmpd no daemon],
    "Nov 22 06:12:08 hall scsi: [ID 107833 kern.warning] late" => %w[warning hall scsi late kern],
    "Nov 22 06:12:08 hall sshd[12] <Error>: no" => ["error", "hall", "sshd", "no", nil],
    "Nov 22 06:12:08 hall notice mcpd[56]: 01070638:5: down" => ["notice", "hall", "mcpd", "01070638:5: down", nil],
    "Nov 22 06:12:08 hall com.apple.launchd[1] (com.apple.x[12]): out" =>
      ["unset", "hall", "com.apple.launchd", "out", nil],
    "Nov 22 06:12:08 hall great sshd[12]: in" => ["unset", nil, nil, "hall great sshd[12]: in", nil]
  }.each do |line, expected|
    define_method("test_#{line[16, 50]}") do
      event = records(line).first
      severity = Severity.name(event.severity)
      facility = event.constants["syslog.facility"]
      assert_equal expected, [severity, event.machine, event.service, Text.utf8(event.message), facility]
    end
  end

  # Firewalls write day and time apart, and send that behind a PRI.
  def test_day_time_and_zone_apart
    line = "date=2026-11-22 time=07:12:08 tz=\"+0100\" devname=gate level=alert msg=\"admin login failed\""
    ["", "<189>"].each do |pri|
      event = records(pri + line).first
      assert_equal [Time.utc(2026, 11, 22, 6, 12, 8), "gate", "alert"],
                   [event.time, event.machine, Severity.name(event.severity)]
      assert_equal [pri + line, pri.empty? ? nil : "local7"], [event.raw, event.constants["syslog.facility"]]
    end
  end

  # A table below its title; a form of Microsoft's DHCP server (Microsoft Learn, "DHCP server audit log").
  TABLE = <<~TEXT
    \t\tDHCP Service Activity Log

    Event ID  Meaning
    00\tThe log was started.
    ID,Date,Time,Description,IP Address,Host Name
    10,11/22/26,06:12:08,Assign,192.0.2.7,pc7
    11,11/22/26,06:13:08,Renew,192.0.2.7,pc7
  TEXT

  def test_a_table_below_a_title
    events = records(TABLE)
    assert_equal TABLE, whole(events)
    rows = events.last(2)
    assert_equal [%i[csv csv], [Time.utc(2026, 11, 22, 6, 12, 8), Time.utc(2026, 11, 22, 6, 13, 8)]],
                 [rows.map(&:reader), rows.map(&:time)]
    assert_equal({ "ID" => 10, "Description" => "Assign", "IP Address" => "192.0.2.7", "Host Name" => "pc7" },
                 rows.first.fields)
    assert_equal "ID,Date,Time,Description,IP Address,Host Name", Reading::Header.last(TABLE, first: true)
    assert_nil Reading::Header.last(TABLE, first: false)
  end

  def test_fields_with_commas_between
    events = records("#Fields: date-time,client-ip,subject\n2026-11-22T06:12:08.123Z,192.0.2.7,\"hello, you\"\n")
    assert_equal [%i[csv csv], Time.utc(2026, 11, 22, 6, 12, 8, 123_000)], [events.map(&:reader), events.last.time]
    assert_equal({ "client-ip" => "192.0.2.7", "subject" => "hello, you" }, events.last.fields)
  end

  # Java SE Troubleshooting Guide, appendix "Fatal Error Log" (parts, from memory).
  CRASH = <<~TEXT
    #
    # A fatal error has been detected by the Java Runtime Environment:
    #
    #  SIGSEGV (0xb) at pc=0x00007f12, pid=1234, tid=1235
    #
    # Problematic frame:
    # V  [libjvm.so+0x123]  Unsafe_PutInt
    #

    ---------------  S U M M A R Y ------------

    Command Line: -Xmx1g hall.Main
    Host: hall, 4 cores, 8G
    Time: Sun Nov 22 07:12:08 2026 CET elapsed time: 12.3 seconds (0d 0h 0m 12s)

    Events (2 events):
    Event: 0.012 loading class java/lang/Short done
    END.
  TEXT

  def test_a_crash_report_is_one_event
    events = records("#{CRASH}2026-11-22 06:20:00 after\n")
    assert_equal %i[listing stamped], events.map(&:reader)
    event = events.first
    assert_equal [CRASH, Time.utc(2026, 11, 22, 6, 12, 8), "hall", "critical"],
                 ["#{event.raw}#{event.ending}", event.time, event.machine, Severity.name(event.severity)]
    assert_equal %w[SIGSEGV 1234 1235], event.fields.values_at("process.signal.name", "process.pid", "thread.id")
    assert_equal "-Xmx1g hall.Main", event.fields["process.command_line"]
    assert_includes event.message, "SIGSEGV (0xb)"
  end

  # Without its end it takes nothing that has a time.
  def test_a_crash_report_that_was_cut_off
    events = records("#{CRASH.delete_suffix("END.\n")}2026-11-22 06:20:00 after\n")
    assert_equal [%i[listing stamped], CRASH.lines.size], [events.map(&:reader), events.last.line_number]
  end

  EVENTS = <<~TEXT
    Event[0]:
      Log Name: System
      Source: Service Control Manager
      Date: 2026-11-22T06:12:08.123Z
      Event ID: 7036
      Level: Warning
      User: N/A
      Computer: hall
      Description:
    The Windows Update service
    entered the stopped state.

    Event[1]:
      Source: Kernel-Power
      Date: 2026-11-22T06:13:08.000Z
      Event ID: 41
      Level: Critical
  TEXT

  def test_events_as_a_console_lists_them
    events = records(EVENTS)
    assert_equal EVENTS, whole(events)
    assert_equal [
      [:listing, "warning", "hall", "Service Control Manager",
       "The Windows Update service\nentered the stopped state.", { "event.channel" => "System", "event.id" => 7036 }],
      [:listing, "critical", nil, "Kernel-Power", Text.utf8(events.last.raw), { "event.id" => 41 }]
    ], told(EVENTS)
  end

  # Docker documentation, "JSON File logging driver"; `tag` is of its option.
  OUTPUT = <<~'TEXT'
    {"log":"2026/11/22 06:12:08 started\n","stream":"stderr","time":"2026-11-22T06:12:08.123456789Z"}
    {"log":"{\"level\":\"error\",\"msg\":\"no ","stream":"stdout","attrs":{"tag":"quay"},"time":"2026-11-22T06:12:09Z"}
    {"log":"seat\"}\r\n","stream":"stdout","attrs":{"tag":"quay"},"time":"2026-11-22T06:12:09Z"}
    {"log":"{\"level\":\"error\",\"msg\":\"no seat\"}\n","stream":"stdout","time":"2026-11-22T06:12:10Z"}
  TEXT

  def test_what_a_container_wrote_in_an_object
    assert_equal OUTPUT, whole(records(OUTPUT))
    assert_equal [
      [:container, "unset", nil, nil, "2026/11/22 06:12:08 started", { "log.iostream" => "stderr" }],
      [:container, "error", nil, nil, '{"level":"error","msg":"no seat"}',
       { "log.iostream" => "stdout", "tag" => "quay" }],
      [:container, "error", nil, nil, "no seat", { "log.iostream" => "stdout" }]
    ], told(OUTPUT)
  end

  def test_a_list_with_a_name_on_one_line_is_several_events
    line = '{"Records": [{"eventTime":"2026-11-22T06:12:08Z","n":1}, {"eventTime":"2026-11-22T06:12:09Z","n":2}]}'
    events = records("#{line}\n#{line}\n")
    assert_equal [[1, 2, 1, 2], [8, 9, 8, 9]], [events.map { |event| event.fields["n"] }, events.map do |event|
      event.time.sec
    end]
    assert_equal "#{line}\n#{line}\n", whole(events)
    assert_equal [1, 1, 2, 2], events.map(&:line_number)
  end

  # journalctl(1), option --output=verbose (values from memory)
  VERBOSE = <<~TEXT
    Sun 2026-11-22 06:12:08.123456 UTC [s=abc;i=1;b=def;m=123;t=456;x=789]
        _TRANSPORT=syslog
        PRIORITY=3
        SYSLOG_IDENTIFIER=sshd
        _PID=12
        _HOSTNAME=hall
        MESSAGE=no
                and more
    Sun 2026-11-22 06:12:09.000001 UTC [s=abc;i=2;b=def;m=124;t=457;x=790]
        PRIORITY=6
        _SYSTEMD_UNIT=hall.service
        MESSAGE=yes
    Nov 22 06:12:10 hall sshd[1]: in
  TEXT

  def test_a_journal_in_full
    assert_equal VERBOSE, whole(records(VERBOSE))
    assert_equal [
      [:journal_verbose, "error", "hall", "sshd", "no\nand more",
       { "journal.transport" => "syslog", "process.pid" => "12" }],
      [:journal_verbose, "informational", nil, "hall.service", "yes", { "systemd.unit" => "hall.service" }],
      [:rfc3164, "unset", "hall", "sshd", "in", { "process.pid" => "1" }]
    ], told(VERBOSE)
    assert_equal Time.utc(2026, 11, 22, 6, 12, 8, 123_456), records(VERBOSE).first.time
  end

  # What stands between two records that have a time, and begins like one itself.
  def test_lines_without_a_time_that_begin_as_records_do
    texts = ["[NOTICE]   (12) : New worker forked", "-- Boot 0123456789abcdef --", "-- Reboot --",
             "quay-2  | Traceback:"]
    texts.each do |text|
      events = records("quay-1  | 2026-11-22 06:12:08 one\n#{text}\nquay-1  | 2026-11-22 06:12:09 two\n")
      assert_equal(["quay-1", text, "quay-1"], events.map { |event| event.service || Text.utf8(event.raw) })
    end
    assert_equal 1, records("quay-1  | 2026-11-22 06:12:08 one\nquay-1  | more\n").size
  end

  # The example of the audit chapter of a distribution's security guide (from memory).
  AUDIT = <<~TEXT
    type=SYSCALL msg=audit(1364481363.243:24287): arch=c000003e syscall=2 success=no exit=-13 ppid=2686 pid=3538 auid=500 uid=500 comm="cat" exe="/bin/cat" key="sshd_config"
    type=CWD msg=audit(1364481363.243:24287):  cwd="/home/shadowman"
    type=PATH msg=audit(1364481363.243:24287): item=0 name="/etc/ssh/sshd_config" inode=409248
    node=birch type=USER_LOGIN msg=audit(1364481364.001:24288): pid=1 uid=0 ses=4 msg='op=login acct="root" exe="/usr/sbin/sshd" addr=10.0.0.1 terminal=ssh res=failed'
  TEXT

  def test_audit_records_of_one_event_are_joined
    events = records(AUDIT)
    assert_equal [3, 1], [events[0].raw.lines.size, events[1].raw.lines.size]
    assert_equal AUDIT, whole(events)
    assert_equal(
      {
        "audit.serial" => 24_287, "process.pid" => "3538", "file.path" => "/etc/ssh/sshd_config",
        "cwd" => "/home/shadowman"
      }, events[0].fields.slice("audit.serial", "process.pid", "file.path", "cwd")
    )
    assert_equal [Time.at(1_364_481_363, 243_000).utc, "birch", "warning", "root", "10.0.0.1"],
                 [
                   events[0].time, events[1].machine, Severity.name(events[1].severity),
                   *events[1].fields.values_at("user.name", "source.address")
                 ]
  end

  # systemd's "Journal Export Format": a binary value stands behind its length, little-endian, and may hold anything.
  def journal(fields)
    fields
      .map do |name, value|
        value.include?("\n") ? "#{name}\n".b << [value.bytesize].pack("Q<") << value.b << "\n" : "#{name}=#{value}\n".b
      end
      .join << "\n"
  end

  def test_journal_entries_with_binary_values
    first = {
      "__CURSOR" => "a", "__REALTIME_TIMESTAMP" => "1795477515676227", "PRIORITY" => "4",
      "MESSAGE" => "Nov 22 06:14:26 h t: one\n\n__CURSOR=not this\n", "_HOSTNAME" => "alder", "_COMM" => "app",
      "_PID" => "7"
    }
    second = {
      "__CURSOR" => "b", "__REALTIME_TIMESTAMP" => "1795477515676228", "MESSAGE" => "two", "SYSLOG_FACILITY" => "3"
    }
    text = journal(first) + journal(second)
    [1, 13, 4096].each do |chunk|
      events = records(text, chunk: chunk)
      assert_equal [first["MESSAGE"], "two"], events.map(&:message), chunk
      assert_equal text, whole(events)
      assert_equal [:journal_export, "alder", "app", "warning", "7", 1_795_477_515_676_227],
                   [
                     events[0].reader, events[0].machine, events[0].service, Severity.name(events[0].severity),
                     events[0].fields["process.pid"], events[0].time_us
                   ]
      assert_equal "daemon", events[1].constants["syslog.facility"]
    end
  end

  def test_a_journal_entry_that_is_cut_off_is_kept
    text = "__CURSOR=a\n__REALTIME_TIMESTAMP=1795477515676227\nMESSAGE\n".b << [100].pack("Q<") << "cut"
    assert_equal text, whole(records(text))
  end

  # systemd's "Journal JSON Format": bytes that are no UTF-8 come as numbers, repeated fields as lists.
  def test_journal_entries_as_json
    line =
      '{"__CURSOR":"x","__REALTIME_TIMESTAMP":"1795477515676227","PRIORITY":"3","MESSAGE":[104,105,255],"_HOSTNAME":"' \
      'birch","SYSLOG_IDENTIFIER":"sshd","X":["1","2"]}'
    event = read(line)
    assert_equal [:journal_json, "hi\xFF".b, "error", "birch", "sshd", "1", "2"],
                 [
                   event.reader, event.message, Severity.name(event.severity), event.machine, event.service,
                   *event.fields.values_at("journal.x", "journal.x.1")
                 ]
  end

  def test_parts_of_a_container_line_are_one_line
    text =
      "2016-10-06T00:17:09.669794202Z stdout P log content \n2016-10-06T00:17:09.669794203Z stdout F goes " \
      "on\n2016-10-06T00:17:10.1Z stderr F {\"level\":\"warn\",\"msg\":\"inner\",\"n\":3}\n"
    events = records(text)
    assert_equal text, whole(events)
    assert_equal(
      [["log content goes on", { "log.iostream" => "stdout" }], ["inner", { "log.iostream" => "stderr", "n" => 3 }]],
      events.map { |event| [event.message, event.fields] }
    )
    assert_equal "warning", Severity.name(events[1].severity)
  end

  {
    "[   12.345678] usb 1-1: new device" => [
      :kernel_ring, "unset", nil, "kernel", "usb 1-1: new device",
      { "kernel.uptime_s" => 12.345678, "device.name" => "1-1" }
    ], "<4>[    0.000000] low" => [:kernel_ring, "warning", nil, "kernel", "low", { "kernel.uptime_s" => 0.0 }],
    "6,339,5140900,-;NET: Registered" => [
      :kernel_ring, "informational", nil, "kernel", "NET: Registered",
      { "kernel.uptime_s" => 5.1409, "log.record.id" => "339" }
    ],
    "2026-11-22 06:12:08 upgrade libc6:amd64 2.36-8 2.36-9" => [
      :package_log, "notice", nil, "packages", "upgrade libc6:amd64 2.36-8 2.36-9",
      {
        "event.name" => "upgrade", "package.name" => "libc6", "package.architecture" => "amd64",
        "package.version.before" => "2.36-8", "package.version" => "2.36-9"
      }
    ],
    "[Fri Sep 09 10:42:29.902022 2011] [core:error] [pid 35708:tid 4328636416] [client 72.15.99.187:21] File does " \
    "not exist: /x" => [
      :web_error, "error", nil, "web-error", "File does not exist: /x",
      {
        "web.module" => "core", "process.pid" => "35708", "thread.id" => "4328636416",
        "client.address" => "72.15.99.187", "client.port" => 21
      }
    ],
    "<189>29: *Nov 22 06:09:41.123: %SYS-5-CONFIG_I: Configured from console" => [
      :device, "notice", nil, "SYS", "Configured from console",
      { "event.name" => "CONFIG_I", "event.sequence" => 29, "clock.set" => false }
    ],
    '<13>Nov 22 06:09:41 birch app[3]: {"msg":"inner","request":{"id":"r1"}}' => [
      :rfc3164, "notice", "birch", "app", "inner", { "process.pid" => "3", "request.id" => "r1" }
    ],
    '{"resourceLogs":[{"resource":{"attributes":[{"key":"host.name","value":{"stringValue":"cedar"}},{"key":"service.' \
    'name","value":{"stringValue":"svc"}}]},"scopeLogs":[{"scope":{"name":"lib"},' \
    '"logRecords":[{"timeUnixNano":"1795474800123456789","severityNumber":17,"body":{"stringValue":"body"},"attribu' \
    'tes":[{"key":"n","value":{"intValue":"42"}}],"traceId":"5b8efff798038103d269b633813fc60c"}]}]}]}' => [
      :otlp_json, "error", "cedar", "svc", "body",
      { "n" => 42, "trace.id" => "5b8efff798038103d269b633813fc60c", "logger.name" => "lib" }
    ]
  }.each_with_index do |(line, expected), index|
    define_method("test_line_#{index}_#{expected.first}") { assert_equal [expected], told("#{line}\n") }
  end

  def test_the_context_of_a_web_servers_error
    event =
      read(
        '2026/11/22 06:12:08 [crit] 7#8: *1 connect() failed, client: 10.0.0.3, server: _, request: "GET / ' \
        'HTTP/1.1", host: "x"'
      )
    assert_equal(
      {
        "process.pid" => "7", "thread.id" => "8", "connection.id" => "1", "client.address" => "10.0.0.3",
        "server.name" => "_", "http.request" => "GET / HTTP/1.1", "http.host" => "x"
      }, event.fields
    )
  end

  # What only looks like one of them stays with the wider reader.
  def test_look_alikes
    assert_equal :stamped, read("2026-11-22 06:12:08 remove the old gasket").reader
    assert_equal :rfc3164, read("<189>Nov 22 06:09:41 sw-core-1 %CONFIG-5-CHANGED: mtu").reader
    assert_equal :json, read('{"resourceLogs":17}').reader
    assert_equal :stamped, read("[2026/11/22 06:12:08] [warn] low on paper").reader
  end

  # Programs that leave out the first digit of an hour before ten, with a blank for it or without: from memory.
  def test_hours_before_ten_of_one_digit
    [
      "2026-11-22  6:12:08", "2026-11-22 6:12:08", "2026-11-22 06:12:08", "2026/11/22 6:12:08", "22.11.2026 6:12:08"
    ].each do |stamp|
      event = read("#{stamp} low on paper")
      assert_equal [Time.utc(2026, 11, 22, 6, 12, 8), "low on paper", %i[zone]],
                   [event.time, event.message, event.inferred], stamp
    end
    assert_equal :database, read("2026-11-22  6:12:08 7 [Warning] Aborted connection 7").reader
    assert_equal(
      [Time.utc(2026, 11, 22, 6, 12, 8, 5000), []],
      read("2026-11-22  6:12:08.005Z low").then { |event| [event.time, event.inferred] }
    )
  end

  # PostgreSQL documentation, "Error Reporting and Logging" (log_line_prefix '%m [%p] ' is the default; the lines are
  # from memory).
  DATABASE = <<~TEXT
    2026-11-22 06:12:08.123 UTC [1234] ERROR:  duplicate key value violates unique constraint "seats_pkey"
    2026-11-22 06:12:08.123 UTC [1234] DETAIL:  Key (id)=(7) already exists.
    2026-11-22 06:12:08.123 UTC [1234] STATEMENT:  INSERT INTO seats
    \tVALUES (7)
    2026-11-22 06:12:09.000 UTC [1240] bookingd@tickets LOG:  duration: 812.250 ms  statement: SELECT 1
    2026-11-22 06:12:10.000 UTC [1234] FATAL:  the database system is shutting down
    2026-11-22T06:12:11.123456Z 8 [Warning] [MY-010055] [Server] IP address could not be resolved
    2026-11-22 06:12:12.500 UTC,"ida","tickets",1250,"10.40.0.11:4711",6a,3,"INSERT",2026-11-22 06:00:00 UTC,3/7,0,ERROR,22P02,"invalid input
    syntax","near ""x""",,,,,"INSERT INTO a
    VALUES ('x')",15,,"bookingd","client backend",,0
    2026-11-22 06:12:13.000 UTC [1234] LOG:  done
  TEXT

  def test_what_belongs_to_a_message_of_a_database_server_is_joined
    events = records(DATABASE)
    assert_equal DATABASE, whole(events)
    assert_equal(
      [
        [:database, "error"], [:database, "informational"], [:database, "critical"], [:database, "warning"],
        [:database, "error"], [:database, "informational"]
      ], events.map { |event| [event.reader, Severity.name(event.severity)] }
    )
    assert_equal ["Key (id)=(7) already exists.", "1234"], events[0].fields.values_at("db.detail", "process.pid")
    assert_equal 4, events[0].raw.lines.size
    assert_equal [812.25, "bookingd", "tickets"], events[1].fields.values_at("duration_ms", "user.name", "db.namespace")
    assert_equal ["MY-010055", "IP address could not be resolved"], [events[3].fields["event.code"], events[3].message]
    assert_equal ["invalid input\nsyntax", 'near "x"', "INSERT INTO a\nVALUES ('x')", "22P02", "bookingd"],
                 [
                   events[4].message,
                   *events[4].fields.values_at(
                     "db.detail", "db.query.text", "db.response.status_code", "service.instance"
                   )
                 ]
  end

  def test_separated_values_whatever_the_size_of_the_pieces
    text =
      "date;time;severity;computer;what\n2026-11-22;06:12:08;warning;alder;\"low;\nvery " \
      "low\"\n2026-11-22;06:12:09;info;birch;fine\nnot of it\n"
    [1, 7, 4096].each do |chunk|
      events = records(text, chunk: chunk)
      assert_equal text, whole(events)
      assert_equal(
        [[:csv, nil], [:csv, "alder"], [:csv, "birch"]], events.map { |event| [event.reader, event.machine] }
      )
      assert_equal ["low;\nvery low", "2026-11-22 06:12:08 UTC", "warning"],
                   [events[1].fields["what"], events[1].time.to_s, Severity.name(events[1].severity)]
    end
  end

  # Tables as shells, spreadsheets and devices write them: text; time, severity, machine, service, message and fields of
  # the first row.
  {
    "\"TimeCreated\",\"LevelDisplayName\",\"ProviderName\",\"Id\",\"MachineName\"," \
    "\"Message\"\r\n\"2026-11-22T06:12:08.1234567Z\",\"Error\",\"Spooler\",\"7031\",\"print-01\",\"It " \
    "ended.\r\nOnce.\"\r\n" => [
      "2026-11-22 06:12:08 UTC", "error", "print-01", "Spooler", "It ended.\r\nOnce.", { "Id" => 7031 }
    ],
    "Timestamp\tLevel\tLogger\tMessage\n2026-11-22 06:12:08.417\tWARN\tpool\tslow\n" => [
      "2026-11-22 06:12:08 UTC", "warning", nil, nil, "slow", { "logger.name" => "pool" }
    ],
    "nr;zeit;größe\n1;22.11.2026 06:12:08;7\n" => [
      "2026-11-22 06:12:08 UTC", "unset", nil, nil, "1;22.11.2026 06:12:08;7", { "nr" => 1, "größe" => 7 }
    ],
    "timestamp,value\n1795327928,3.5\n" => [
      "2026-11-22 06:12:08 UTC", "unset", nil, nil, "1795327928,3.5", { "value" => "3.5" }
    ], "ts,msg\n2026-11-22T06:12:08Z,\"a, b\"\n" => ["2026-11-22 06:12:08 UTC", "unset", nil, nil, "a, b", {}]
  }.each_with_index do |(text, (time, severity, machine, service, message, fields)), index|
    define_method("test_table_#{index}") do
      header, row, = records(text)
      assert_equal [:csv, :csv, text.b], [header.reader, row.reader, whole([header, row]).b]
      assert_equal [time, severity, machine, service, message],
                   [row.time.round.to_s, Severity.name(row.severity), row.machine, row.service, Text.utf8(row.message)]
      fields.each { |name, value| assert_equal value, row.fields[name], name }
    end
  end

  # A first line with commas is not a header for that.
  [
    "Well, time flies\nand, so on\n", "date, time\nx, y\n", "error, warning\na, b\n", "2026-11-22,time\n1,2\n"
  ].each_with_index do |text, index|
    define_method("test_no_table_#{index}") { refute_includes records(text).map(&:reader), :csv, text }
  end

  # A quote that is never closed must not swallow the file.
  def test_a_quote_without_end_is_given_up
    text = "timestamp,level,message\n2026-11-22 06:00:00,info,\"open\n#{"2026-11-22 06:00:01,info,x\n" * 6000}"
    events = records(text)
    assert_equal text, whole(events)
    assert_operator events.size, :>, 3000
  end

  def test_lines_of_an_extended_log_file
    text =
      "#Fields: date time s-computername cs-method cs-uri-stem c-ip cs(User-Agent) sc-status time-taken\n2026-11-22 " \
      "06:12:08 WEB1 GET /a 10.0.0.1 \"a \"\"b\"\" c\" 503 120\n2026-11-22 06:12:09 WEB1 GET /b 10.0.0.2 - 200 3\n"
    events = records(text)
    assert_equal(
      [["error", "WEB1", "GET /a 503"], ["informational", "WEB1", "GET /b 200"]],
      events.drop(1).map { |event| [Severity.name(event.severity), event.machine, event.message] }
    )
    assert_equal ["10.0.0.1", 'a "b" c', 503, 120],
                 events[1].fields.values_at(
                   "source.address", "user_agent.original", "http.response.status_code", "time-taken"
                 )
    refute events[2].fields.key?("user_agent.original")
  end

  def test_several_records_of_a_request_become_as_many_events
    request = {
      "resourceLogs" => [
        {
          "resource" => { "attributes" => [{ "key" => "host.name", "value" => { "stringValue" => "alder" } }] },
          "scopeLogs" => [
            {
              "scope" => {},
              "logRecords" => [
                {
                  "timeUnixNano" => "1795327928000000000", "severityNumber" => 17,
                  "body" => { "stringValue" => "one } \"]" }
                },
                {
                  "timeUnixNano" => "1795327929000000000",
                  "body" => {
                    "kvlistValue" => { "values" => [{ "key" => "logRecords", "value" => { "intValue" => "1" } }] }
                  }
                }
              ]
            }
          ]
        },
        {
          "resource" => {},
          "scopeLogs" => [
            {
              "logRecords" => [
                {
                  "timeUnixNano" => "1795327930000000000", "body" => { "stringValue" => "three" },
                  "attributes" => [
                    { "key" => "logRecords", "value" => { "arrayValue" => { "values" => [{ "stringValue" => "x" }] } } }
                  ]
                }
              ]
            }
          ]
        }
      ]
    }
    text = "#{JSON.generate(request)}\n"
    events = records(text)
    assert_equal text, whole(events)
    assert_equal(
      [["alder", "one } \"]", "error"], %w[alder {"logRecords":1} unset], [nil, "three", "unset"]],
      events.map { |event| [event.machine, Text.utf8(event.message), Severity.name(event.severity)] }
    )
    assert_equal([8, 9, 10], events.map { |event| event.time.sec })
    assert_equal(
      [true, true, true], events.zip(%w[one kvlistValue three]).map { |event, word| event.raw.include?(word) }
    )
  end

  # Tables and pairs in other languages than English
  def test_words_of_other_languages
    {
      "Zeit;Stufe;Meldung\n22.11.2026 06:12:08;Fehler;offen\n" => "offen",
      "Datum;Uhrzeit;Stufe;Text\n22.11.2026;06:12:08;FEHLER;offen\n" => "offen",
      "时间,级别,消息\n2026-11-22 06:12:08,错误,打开\n" => "打开",
      "время=2026-11-22T06:12:08Z уровень=ошибка сообщение=нет\n" => "нет",
      "{\"@t\":\"2026-11-22T06:12:08Z\",\"@l\":\"Error\",\"@mt\":\"no seat {Id}\",\"Id\":7}\n" => "no seat {Id}",
      "{\"t\":{\"$date\":\"2026-11-22T06:12:08.000Z\"},\"s\":\"E\",\"c\":\"STORE\",\"msg\":\"gone\"}\n" => "gone"
    }.each do |text, message|
      event = records(text).last
      assert_equal [Time.utc(2026, 11, 22, 6, 12, 8), "error", message],
                   [event.time, Severity.name(event.severity), Text.utf8(event.message)], text
    end
    assert_equal 3, read("{\"time\":\"2026-11-22T06:12:08Z\",\"msg\":\"a\",\"s\":3}").fields["s"], "no letter, no level"
  end
end
