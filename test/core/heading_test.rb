# frozen_string_literal: true

require_relative "../test_helper"

# What loggers put around the time of a line. The shapes are common practice of the programs and libraries of their
# kind; the lines are made up.
class HeadingTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  MOMENT = Time.utc(2026, 11, 22, 6, 12, 8)
  # Line, severity, service, fields. All are of 22 November 2026, 6:12:08; the machine stands in UTC.
  LINES = [
    ["2026-11-22 06:12:08,123 INFO [main] com.example.Hall - open", "informational", nil,
     { "thread.name" => "main", "logger.name" => "com.example.Hall" }],
    ["2026-11-22 06:12:08.123 [main] DEBUG o.h.SQL - select", "debug", nil,
     { "thread.name" => "main", "logger.name" => "o.h.SQL" }],
    ["2026-11-22 06:12:08.123  WARN 17 --- [           main] com.example.App : late", "warning", nil,
     { "process.pid" => "17", "thread.name" => "main", "logger.name" => "com.example.App" }],
    ["2026-11-22 06:12:08.123:INFO:oejs.Hall:main: jetty", "informational", nil, { "logger.name" => "oejs.Hall" }],
    ["2026-11-22 06:12:08,123 [myid:] - INFO  [main:Peer@17] - Reading", "informational", nil, {}],
    ["2026-11-22 06:12:08.123 | ERROR    | hall.seats:sell:12 - no seat", "error", nil,
     { "logger.name" => "hall.seats", "code.function.name" => "sell", "code.line.number" => 12 }],
    ["2026-11-22 06:12:08 [warning  ] late                           gauge=auk", "warning", nil, { "gauge" => "auk" }],
    ["INFO:root:2026-11-22 06:12:08 open", "informational", nil, {}],
    ["INFO  2026-11-22 06:12:08,123 [main] Hall: open", "informational", nil, { "thread.name" => "main" }],
    ["[2026-11-22 06:12:08,123: ERROR/MainProcess] no seat", "error", nil, {}],
    ["[2026-11-22 06:12:08 +0000] [17] [INFO] Booting worker", "informational", nil, { "process.pid" => "17" }],
    ["2026-11-22T06:12:08.123456Z  WARN hall::seats: late", "warning", nil, { "logger.name" => "hall::seats" }],
    ["[2026-11-22T06:12:08Z ERROR hall] no seat", "error", nil, {}],
    ["2026/11/22 06:12:08.123456 main.go:12: open", "unset", nil,
     { "code.file.path" => "main.go", "code.line.number" => 12 }],
    ["2026-11-22 06:12:08.123 [info] <0.17.0> open", "informational", nil, { "process.pid" => "<0.17.0>" }],
    ["[17] 2026/11/22 06:12:08.123456 [INF] open", "informational", nil, { "process.pid" => "17" }],
    ["17:M 22 Nov 2026 06:12:08.123 * Ready", "unset", nil, {}],
    ["[1795327928] unbound[17:0] info: start", "informational", "unbound", { "process.pid" => "17" }],
    ["22 Nov 06:12:08 ntpd[17]: exiting", "unset", "ntpd", { "process.pid" => "17" }],
    ["2026-11-22 06:12:08: (server.c.1057) server started", "unset", nil,
     { "code.file.path" => "server.c", "code.line.number" => 1057 }],
    ["NOTICE    Nov 22 06:12:08 [17]: Initializing", "notice", nil, { "process.pid" => "17" }],
    ["[Nov 22 06:12:08] NOTICE[17] loader.c: loaded", "notice", nil, {}],
    ["lxc-start hall 20261122061208.123 ERROR conf - conf.c:1 - no", "error", "lxc-start",
     { "logger.name" => "conf" }],
    ["[2026-11-22T06:12:08.123456+00:00] hall.CRITICAL: gone [] []", "critical", nil, { "logger.name" => "hall" }],
    ["[2026-11-22T06:12:08+00:00] hall.INFO: stored {\"booking\":\"BK-1\",\"who\":{\"id\":7}} []", "informational", nil,
     { "booking" => "BK-1", "who.id" => 7 }],
    ["2026-11-22T06:12:08.000Z\tINFO\tsetup\tstarting\t{\"took\": 812}", "informational", nil, { "took" => 812 }],
    ["2026-11-22 06:12:08 a {\"b\":\"}\"} and {\"c\":1} {\"d\"", "unset", nil, { "b" => "}", "c" => 1 }],
    ["2026-11-22 06:12:08,123 [main] \e[1;31mERROR\e[m hall.Seats - no seat", "error", nil,
     { "thread.name" => "main", "logger.name" => "hall.Seats" }],
    ["Nov 22 06:12:08 startup\tinfo\topen", "informational", nil, { "logger.name" => "startup" }],
    ["2026-11-22 06:12:08.123+0000: 17: warning : virHall:18 : late", "warning", nil, { "process.pid" => "17" }],
    ["2026-11-22 06:12:08.425 INFO  [kea-dhcp4.hosts/17.140463109714432] HOSTS_REGISTERED open", "informational", nil,
     { "logger.name" => "kea-dhcp4.hosts", "process.pid" => "17", "event.name" => "HOSTS_REGISTERED" }],
    ["[pid: 709|app: 0|req: 1/1] 127.0.0.1 () {24 vars in 244 bytes} [Sun Nov 22 06:12:08 2026] GET /no " \
     "=> generated 1 bytes in 7 msecs (HTTP/1.1 500) 0 headers in 0 bytes", "error", "proxy",
     { "url.original" => "/no", "duration_ms" => 7, "http.response.status_code" => 500 }],
    ["2026-11-22T06:12:08,000000+00:00 Hypervisor detected: KVM", "unset", "kernel", {}],
    ["web-1  | 2026-11-22 06:12:08 open", "unset", "web-1", {}],
    ["(hall:17): Gtk-WARNING **: 06:12:08.123: no", "warning", "hall", { "process.pid" => "17" }],
    ["<Nov 22, 2026 6:12:08 AM UTC> <Notice> <Security> <H-1> <open>", "notice", nil, {}],
    ["####<Nov 22, 2026 6:12:08,123 AM UTC> <Error> <Security> <hall> <no>", "error", nil, {}],
    ["[11/22/26 6:12:08:123 UTC] 00000001 Impl A H0001I: open", "notice", nil, { "thread.id" => "00000001" }],
    ["INFO [11-22|06:12:08.123] Starting peer=auk", "informational", nil, { "peer" => "auk" }],
    [
      "11-22 06:12:08.123  1234  1235 I Hall: open", "informational", nil,
      { "process.pid" => "1234", "thread.id" => "1235", "logger.name" => "Hall" }
    ],
    ["2026-11-22T06:12:08+0000 DDEBUG timer: 4 ms", "debug", nil, { "logger.name" => "timer" }],
    ["2026-11-22 06:12:08,123 - util.py[WARNING]: no data", "warning", nil, { "logger.name" => "util.py" }],
    ["2026-11-22 06:12:08, Warning               DISM   Failed", "warning", nil, {}],
    ["2026-11-22 06:12:08, Info                  CBS    Error none", "informational", nil, {}],
    ["2026-11-22T06:12:08.123Z error hostd[17] [Originator@6876 sub=Default] no", "error", "hostd",
     { "process.pid" => "17" }],
    ["2026-11-22T06:12:08.123Z In(182) vmkernel: cpu1:20)Vob: x", "informational", "vmkernel", {}],
    ["2026-11-22T06:12:08.123Z| vcpu-0| W115: DISKLIB", "warning", nil, { "thread.name" => "vcpu-0" }],
    ["2026/11/22 06:12:08 cmd/web.go:242:runWeb() [E] no", "error", nil,
     { "code.file.path" => "cmd/web.go", "code.function.name" => "runWeb" }],
    ["nov/22/2026 06:12:08 system,info,account user admin logged in", "informational", nil,
     { "log.topics" => "system,info,account" }],
    ["  1234:20261122:061208.123 server started", "unset", nil, { "process.pid" => "1234" }],
    ["11/22-06:12:08.123456 192.0.2.7:80 -> 192.0.2.8:4022", "unset", nil, {}],
    ["2026-11-22-06.12.08.123456+000 I1E2   LEVEL: Event", "unset", nil, {}],
    ["2026-11-22-07.12.08.123456+060 I1E2   LEVEL: Event", "unset", nil, {}],
    ["2026-11-22 06:12:08.123456+0000 0x1a2c Error 0x1234 124 0 kernel: (Hall) no", "error", "kernel",
     { "process.pid" => "124" }],
    ["<warn>  [#{MOMENT.to_i}.1234] device (wlan0): no", "warning", nil, {}],
    ["2026年11月22日 06:12:08 エラー", "unset", nil, {}], ["[2026.11.22-06.12.08:123][  0]Log: Error: no", "error", nil, {}],
    ["2026-11-22 06:12:08 - Warnung - Platte fast voll", "warning", nil, {}],
    ["22.11.2026 06:12:08,123 FEHLER Platte voll", "error", nil, {}],
    ["E20261122 06:12:08.123456 12 main.cpp:3] no", "error", nil, { "thread.id" => "12" }],
    ["INFO  [Tasks:1] 2026-11-22 06:12:08,123 Hall.java:98 - 1 late", "informational", nil,
     { "thread.name" => "Tasks:1", "code.line.number" => 98 }],
    ["[2026-11-22T06:12:08.123Z] \"GET /seat HTTP/1.1\" 503 UF 0 91 12 -", "error", nil,
     { "http.response.status_code" => 503, "url.original" => "/seat" }],
    ["2026-11-22 06:12:08,123 - access - INFO - 192.0.2.7:4022 - \"POST /seat HTTP/1.1\" 503", "informational", nil,
     { "http.response.status_code" => 503, "client.address" => "192.0.2.7", "client.port" => 4022 }],
    ["26/11/22 06:12:08 INFO Hall: open", "informational", nil, { "logger.name" => "Hall" }],
    ["22/11/2026 06:12:08 open", "unset", nil, {}], ["11/22/2026 6:12:08 AM open", "unset", nil, {}],
    ["22.11.26 06:12:08 Dienst beendet", "unset", nil, {}],
    ["2026.11.22 06:12:08 LOG5[main]: open", "notice", nil, { "thread.name" => "main" }],
    ["20261122 06:12:08 open", "unset", nil, {}], ["20261122-06:12:08.123 open", "unset", nil, {}],
    ["2026-11-22-06.12.08.123456 open", "unset", nil, {}], ["261122  6:12:08 [Note] open", "notice", nil, {}],
    ["2026-Nov-22 06:12:08 open", "unset", nil, {}], ["22Nov2026 06:12:08 open", "unset", nil, {}],
    ["Sunday, November 22, 2026 6:12:08 AM open", "unset", nil, {}],
    ["22 November 2026 06:12:08 open", "unset", nil, {}], ["Nov-22-2026 06:12:08 open", "unset", nil, {}],
    ["2026-11-22 6:12:08 AM open", "unset", nil, {}], ["Nov 22 06:12:08 2026 open", "unset", nil, {}],
    ["1.795327928123e+09\tINFO\tsetup\tstarting", "informational", nil, {}],
    ["[1795327928.123456] open", "unset", nil, {}],
    # The label of D. J. Bernstein's clock: 2^62 and 10 seconds more than since 1970
    ["@40000000#{format('%08x', MOMENT.to_i + 10)}0754d4c0 open", "unset", nil, {}],
    # A directory server: seconds and nanoseconds in hexadecimal
    ["#{format('%08x', MOMENT.to_i)}.0754d4c0 0x7f11 conn=1000 op=0", "unset", nil, { "conn" => "1000", "op" => "0" }],
    ["Started GET \"/\" for 10.0.0.1 at 2026-11-22 06:12:08 +0000", "unset", nil, {}],
    ["*** hall is running. Sun Nov 22 06:12:08 2026 ***", "unset", nil, {}],
    ["10.0.0.1, 10.0.0.2 - - [22/Nov/2026:06:12:08 +0000] \"GET / HTTP/1.1\" 404 10 \"-\" \"x\"", "warning",
     "web-access", { "client.address" => "10.0.0.1, 10.0.0.2", "http.response.status_code" => 404 }],
    ["10.0.0.1 - ida kvam [22/Nov/2026:06:12:08 +0000] \"GET / HTTP/1.1\" 200 10", "informational", "web-access",
     { "user.name" => "ida kvam" }],
    ["hall.example 10.0.0.1 - - [22/Nov/2026:06:12:08 +0000] \"GET / HTTP/1.1\" 200 10 \"-\" \"x\"", "informational",
     "web-access", { "server.address" => "hall.example", "client.address" => "10.0.0.1" }],
    ["10.0.0.1 - - [22/Nov/2026:06:12:08 +0000] \"GET /?q=\"a\" HTTP/1.1\" 200 10", "informational", "web-access",
     { "url.original" => "/?q=\"a\"", "http.response.status_code" => 200 }],
    ["2026-11-22T06:12:08.123+0000 W STORAGE  [initandlisten] late", "warning", nil,
     { "logger.name" => "STORAGE", "thread.name" => "initandlisten" }],
    ["[GIN] 2026/11/22 - 06:12:08 | 404 |     1.234567ms |       192.0.2.7 | GET      \"/x\"", "warning", nil,
     { "http.response.status_code" => 404, "client.address" => "192.0.2.7" }],
    ["22-NOV-2026 06:12:08 * service_update * hall * 0", "unset", nil, {}],
    ["[2026-11-22][06:12:08][hall::seats][WARN] late", "warning", nil, { "logger.name" => "hall::seats" }],
    ["2026-11-22 06:12:08.1234|ERROR|Hall.Seats|no seat", "error", nil, { "logger.name" => "Hall.Seats" }],
    ["2026-11-22 06:12:08.123 +00:00 [FTL] gone", "critical", nil, {}],
    ["2026-11-22 06:12:08.123 +00:00 [VRB] tiny", "debug", nil, {}],
    ["2026-11-22T06:12:08.123456Z  WARN ThreadId(01) hall: late", "warning", nil,
     { "thread.id" => "01", "logger.name" => "hall" }],
    ["[2026-11-22T06:12:08Z WARN  hall] late", "warning", nil, { "logger.name" => "hall" }],
    ["[2026-11-22T06:12:08.123+0000] {task.py:1331} INFO - open", "informational", nil,
     { "code.file.path" => "task.py", "code.line.number" => 1331 }],
    ["[2026-11-22T06:12:08.123+0000][0.012s][info][gc,heap] Using G1", "informational", nil,
     { "process.uptime" => 0.012, "logger.name" => "gc,heap" }],
    ["2026-11-22 06:12:08,123 [hall.seats  :17][ERROR   ][567] no seat", "error", nil,
     { "logger.name" => "hall.seats", "code.line.number" => 17, "process.pid" => "567" }],
    ["Nov 22 06:12:08 13[IKE] <gate|1> initiating", "unset", nil,
     { "thread.id" => "13", "logger.name" => "IKE", "connection.name" => "gate|1" }],
    ["2026-11-22 06:12:08 #17(normal) <a1>; task; done", "unset", nil,
     { "process.pid" => "17", "process.name" => "normal" }],
    ["[I 261122 06:12:08 web:1971] 200 GET / (192.0.2.7) 1.23ms", "informational", nil,
     { "logger.name" => "web", "code.line.number" => 1971 }],
    ["[W 2026-11-22 06:12:08.123 HallApp] late", "warning", nil, { "logger.name" => "HallApp" }],
    ["17:signal-handler (#{MOMENT.to_i}) Received SIGTERM scheduling shutdown...", "unset", nil, {}]
  ].freeze

  LINES.each do |line, severity, service, fields|
    define_method("test_#{line[0, 60]}") do
      event = read(line, reference: Time.utc(2026, 11, 22, 12))
      assert_equal [MOMENT.to_i, severity, service], [event.time.to_i, Severity.name(event.severity), event.service]
      assert_equal fields, texts(event.fields.slice(*fields.keys))
      assert_nil event.machine
      assert_equal line.b, event.raw
    end
  end

  def texts(fields) = fields.transform_values { |value| value.is_a?(String) ? Text.utf8(value) : value }

  def test_a_daemon_behind_its_machine
    event = read("Nov 22 06:12:08.689 hall pacemakerd          [1942] (read_config) \tinfo: no quorum | rc=2")
    assert_equal %w[hall pacemakerd informational 1942 read_config 2],
                 [event.machine, event.service, Severity.name(event.severity),
                  *event.fields.values_at("process.pid", "code.function.name", "rc")]
  end

  def test_a_file_server_behind_its_machine
    event = read("2026-11-22 06:12:08,123 hall proftpd[17] 192.0.2.1 (192.0.2.7[192.0.2.7]): USER ida: Login ok")
    assert_equal %w[hall proftpd 17], [event.machine, event.service, event.fields["process.pid"]]
  end

  # Times that leave out the seconds, or the day as well
  def test_times_to_the_minute
    event = read("22-Nov 06:12 bacula-sd JobId 7: Fatal error: no tape", reference: Time.utc(2026, 11, 22, 12))
    assert_equal [Time.utc(2026, 11, 22, 6, 12), "critical", "bacula-sd", "7"],
                 [event.time, Severity.name(event.severity), event.service, event.fields["job.id"]]
    event = read("6:12AM WRN late gauge=auk", reference: Time.utc(2026, 11, 22, 12))
    assert_equal [Time.utc(2026, 11, 22, 6, 12), "warning", "auk"],
                 [event.time, Severity.name(event.severity), event.fields["gauge"]]
    refute read("6:12AM Nil late", reference: Time.utc(2026, 11, 22, 12)).stamped
  end

  # What has no time but a level
  def test_parts_without_a_time
    event = read("ERROR:hall.seats:no seat")
    assert_equal ["error", "hall.seats", false],
                 [Severity.name(event.severity), event.fields["logger.name"], event.stamped]
    event = read("hall.c:1126: warn: late")
    assert_equal ["warning", "hall.c", 1126],
                 [Severity.name(event.severity), *event.fields.values_at("code.file.path", "code.line.number")]
    event = read("fail: Hall.Seats[12]")
    assert_equal ["error", "Hall.Seats", "12"],
                 [Severity.name(event.severity), *event.fields.values_at("logger.name", "event.id")]
    event = read("[    12.345] (EE) Failed to load module")
    assert_equal [:x_server, "error", 12.345],
                 [event.reader, Severity.name(event.severity), event.fields["kernel.uptime_s"]]
    event = read("kern  :notice: [    1.250000] Linux version")
    assert_equal [:kernel_ring, "notice", 1.25],
                 [event.reader, Severity.name(event.severity), event.fields["kernel.uptime_s"]]
  end

  # A line without a time is of the time of the one before it, and stands for itself where its like did.
  def test_lines_without_a_time_among_others
    found = records("[7] a\n[7] b\n[7] c\n2026-11-22 06:12:08 d\n  e\n[7] f\nmore\n")
    assert_equal ["[7] a", "[7] b", "[7] c", "2026-11-22 06:12:08 d\n  e", "[7] f", "more"], found.map(&:raw)
    assert_equal [MOMENT, %i[time]], [found[4].time, found[4].inferred]
    found = records("*** hall on [Sun Nov 22 06:12:08 2026] ***\nbuilt on 19 May 2023 13:59:29\nopen\n")
    assert_equal [true, false, false], found.map(&:stamped)
    assert_equal [MOMENT] * 3, found.map(&:time)
  end

  # Zeros after a power cut, a mark of byte order in the midst, colours: kept, and no part of what is said.
  def test_scraps
    lines = ["\0\0\0Nov 22 06:12:08 hall app[7]: a", "\0\uFEFFNov 22 06:12:09 hall app[7]: b",
             "\uFEFF2026-11-22 06:12:10 c", "\e[1mNov 22 06:12:11\e[0m hall app[7]: \e[31md\e[0m"]
    found = records(lines.join("\n"))
    assert_equal lines.map(&:b), found.map(&:raw)
    assert_equal %w[a b c d], found.map(&:message)
    assert_equal([8, 9, 10, 11], found.map { |event| event.time.sec })
    assert_equal ["hall", "hall", nil, "hall"], found.map(&:machine)
  end

  # Whatever strangers write, a line is read in a time that grows with its length.
  def test_hostile_lines
    [
      "2026-11-22 06:12:08 {\"#{'\\"' * 200_000}", "2026-11-22 06:12:08 #{'INFO 1 [a] ' * 40_000}",
      "2026-11-22 06:12:08 INFO #{'a.' * 200_000}", "1 " * 200_000, "[a" * 200_000, '{"a":' * 60_000,
      "10.0.0.1 - - [22/Nov/2026:06:12:08 +0000] \"#{'" 200 ' * 60_000}", "#{'a, ' * 130}- - [22/Nov/2026:06:12:08] \"",
      "Nov 22 06:12:08 hall sshd[7]: Failed #{'password for ' * 30_000}", "\0\e[" * 100_000, "a: " * 100_000
    ].each do |line|
      took = [line[0, 20_000], line].map do |text|
        started = Process.clock_gettime(Process::CLOCK_THREAD_CPUTIME_ID)
        read(text)
        Process.clock_gettime(Process::CLOCK_THREAD_CPUTIME_ID) - started
      end
      # Twenty times as long; a square would be four hundred times.
      assert_operator took[1], :<, (took[0] * 100) + 0.2, line[0, 40]
    end
  end

  # No clock that is right shows these; a view of everything would be of 8,000 years.
  def test_a_clock_far_off
    found = records("2026-11-22 06:12:08 a\n9999-12-31 23:59:59 b\n1970-01-01 00:00:05 c\n2041-06-01 00:00:00 d\n")
    assert_equal [MOMENT] * 4, found.map(&:time)
    assert_equal [true, false, false, false], found.map(&:stamped)
    assert_equal [nil] + ([Reading::Context::FAR] * 3), found.map(&:note)
    assert_equal "2036-11-01", read("2036-11-01 00:00:00 late").time.strftime("%F"), "ten years may be a setting"
  end

  # A clock alone is of the day of the file, or of the day before where it would lie after it.
  def test_a_clock_without_a_day
    before, after = ["06:12:08.123 [main] INFO Hall - open", "23:12:08 open"].map { |line| read(line) }
    assert_equal [Time.utc(2026, 11, 23, 6, 12, 8.123r), %i[date zone]], [before.time, before.inferred]
    assert_equal Time.utc(2026, 11, 22, 23, 12, 8), after.time
    assert_equal({ "thread.name" => "main", "logger.name" => "Hall" }, texts(before.fields))
  end

  # What no date stands in gets none, whatever numbers it has.
  def test_no_time
    [
      "restart at 06:12:08 failed", "up 06:12:08", "version 2026.11.22", "10.0.0.1 port 8809", "deadbeef freed",
      "build 1795327928", "a/2026/11/22 06:12:08", "x2026-11-22 06:12:08", "2026-11-22", "99/99/2026 06:12:08 open"
    ].each { |line| refute read(line).stamped, line }
  end

  # Within a record that starts with its time, a line with a date in its midst goes on with it; in a file whose times
  # stand within the lines it is one of them.
  def test_which_lines_are_records
    text = "2026-11-22 06:12:08 ERROR no seat\nValueError: bad date 2026-11-21 10:00:00 here"
    assert_equal [text], records(text).map(&:raw)
    lines = [
      "10.0.0.1 - - [22/Nov/2026 06:12:08] \"GET /none HTTP/1.1\" 404 -",
      "10.0.0.1 - - [22/Nov/2026 06:12:09] code 404, message File not found"
    ]
    assert_equal lines, records(lines.join("\n")).map(&:raw)
    lines = ["{\"time\":\"2026-11-22T06:12:08Z\",\"msg\":\"a\"}", "ключ=значение состояние=нет"]
    assert_equal(lines, records(lines.join("\n")).map { |event| Text.utf8(event.raw) })
    clocks = "06:12:08 a\nb\n06:12:09 c\n"
    assert_equal ["06:12:08 a\nb", "06:12:09 c"], records(clocks).map(&:raw)
    assert_equal ["2026-11-22 06:12:08 a\n06:12:09 c"], records("2026-11-22 06:12:08 a\n06:12:09 c\n").map(&:raw)
  end
end
