# frozen_string_literal: true

require_relative "../test_helper"

# Records that begin with a line of their own, or have their level or their time in unusual places. What real programs
# wrote is held in test/outside/recorded_test; here is what those did not happen to write. Samples are from memory where
# no source is named.
class HeadsTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  def told(text, **options)
    found = records(text, **options)
    assert_equal text.b, whole(found)
    found.map do |event|
      [
        event.reader, event.stamped ? event.time.strftime("%F %T.%L") : nil, Severity.name(event.severity),
        Text.utf8(event.message)
      ]
    end
  end

  # From Java 20 on a narrow blank that does not break stands before AM and PM (Unicode CLDR 42, time formats of
  # English).
  def test_halves_of_a_day
    {
      "12:00:00 AM" => 0, "12:59:59 AM" => 0, "1:00:00 AM" => 1, "11:00:00 AM" => 11, "12:00:00 PM" => 12,
      "1:00:00 PM" => 13, "11:59:59\u202FPM" => 23, "9:05:06\u202FAM" => 9
    }.each do |clock, hour|
      event = records("Nov 22, 2026 #{clock} hall.Seats open\nWARNING: low\n").first
      assert_equal [:headed, hour, 22, "low", "warning"],
                   [event.reader, event.time.hour, event.time.day, event.message, Severity.name(event.severity)], clock
    end
    ["0:10:00 AM", "13:10:00 PM"].each do |clock|
      assert_equal :plain, records("Nov 22, 2026 #{clock} hall.Seats open\n").first.reader, clock
    end
  end

  def test_text_below_a_head
    assert_equal [
      [:headed, "2026-11-22 06:12:08.000", "debug", "pool 3\nof 4"],
      [:headed, "2026-11-22 06:12:09.000", "error", "disk failed"]
    ],
                 told(
                   "Nov 22, 2026 6:12:08 AM hall.Seats open\nCONFIG: pool 3\nof 4\nNov 22, 2026 6:12:09 AM " \
                   "hall.Seats open\ndisk failed\n"
                 )
    # A head alone is all there is; one at the end is kept as well.
    assert_equal [[:headed, "2026-11-22 06:12:08.000", "unset", "Nov 22, 2026 6:12:08 AM hall.Seats open"]] * 2,
                 told("Nov 22, 2026 6:12:08 AM hall.Seats open\nNov 22, 2026 6:12:08 AM hall.Seats open")
    # Empty lines before the text belong to the record.
    assert_equal [[:headed, "2026-11-22 06:12:08.000", "error", "gone"]],
                 told("=ERROR REPORT==== 22-Nov-2026::06:12:08 ===\n\n   gone\n")
    assert_equal [[:headed, "2026-11-22 06:12:08.123", "warning", "gauge auk timed out"]],
                 told(
                   "[2026/11/22 06:12:08.123456,  1, pid=17, effective(0, 0)] ../a.c:7(read)\n  gauge auk timed out\n"
                 )
    assert_equal [[:headed, "2026-11-22 06:12:08.000", "unset", "supervisor: {local,hall}"]],
                 told("=PROGRESS REPORT==== 22-Nov-2026::06:12:08 ===\n    supervisor: {local,hall}\n")
  end

  # glog documentation: "[IWEF]mmdd hh:mm:ss.uuuuuu threadid file:line] msg"
  def test_letters_before_the_time
    assert_equal [[:lettered, "2026-11-22 06:12:08.123", "warning", "\"Slow\" took=\"812ms\""]],
                 told("W1122 06:12:08.123456    4711 seats.go:12] \"Slow\" took=\"812ms\"\n")
    event = records("E1122 06:12:08.123456   4711 seats.go:12] no seat\ngoroutine 1 [running]:\n").first
    assert_equal ["4711", "seats.go", 12, "no seat\ngoroutine 1 [running]:"],
                 [*event.fields.values_at("thread.id", "code.file.path", "code.line.number"), event.message]
    assert_equal 2025, records("F1231 23:59:59.000000 1 a.go:1] gone\n").first.time.year,
                 "the latest year that is not after the file's time"
    {
      "E1399 06:12:08.123456 1 a.go:1] no such day" => :plain, "E1122 26:12:08.123456 1 a.go:1] no such hour" => :plain,
      "E1122 06:12:08 cold" => :plain
    }.each { |line, reader| assert_equal reader, read(line).reader, line }
    %w[X A C E W N I D d].zip(
      %w[emergency alert critical error warning notice informational debug debug]
    ) do |letter, name|
      assert_equal [[:lettered, "2026-11-22 05:12:08.000", name, "tray"]],
                   told("#{letter} [22/Nov/2026:06:12:08 +0100] tray\n")
    end
  end

  # Microsoft, "Interpreting the Windows Firewall log"
  def test_a_firewall_by_the_clock_of_its_machine
    text = "#Version: 1.5\n#Software: Microsoft Windows Firewall\n#Time Format: Local\n" \
           "#Fields: date time action protocol src-ip dst-ip src-port dst-port size tcpflags\n" \
           "2026-11-22 06:12:08 DROP TCP 203.0.113.7 192.0.2.1 50110 445 52 S\n"
    event = records(text, zone: "Europe/Oslo").last
    assert_equal [Time.utc(2026, 11, 22, 5, 12, 8), "firewall", "DROP", "203.0.113.7", 445],
                 [event.time, event.service, *event.fields.values_at("action", "source.address", "destination.port")]
    text = text.sub(" tcpflags", " flags")
    assert_equal Time.utc(2026, 11, 22, 6, 12, 8), records(text, zone: "Europe/Oslo").last.time, "others are in UTC"
  end

  # What a program writes for itself stands in syslog and in a container's output.
  def test_lines_within_lines
    request = '10.0.0.3 - ida [22/Nov/2026:06:12:08 +0000] "GET /seats HTTP/1.1" 503 12'
    syslog = read("<190>Nov 22 06:12:09 web nginx: #{request}")
    assert_equal ["informational", "nginx", "GET /seats HTTP/1.1", 503, "ida"],
                 [
                   Severity.name(syslog.severity), syslog.service, syslog.message,
                   *syslog.fields.values_at("http.response.status_code", "user.name")
                 ], "PRI says how severe"
    inside = read("2026-11-22T06:12:09.5Z stdout F #{request}")
    assert_equal ["error", "GET /seats HTTP/1.1", 503, "stdout"],
                 [
                   Severity.name(inside.severity), inside.message,
                   *inside.fields.values_at("http.response.status_code", "log.iostream")
                 ]
    assert_equal Time.utc(2026, 11, 22, 6, 12, 9.5r), inside.time, "the time of the outer line stands"
    letters = read("2026-11-22T06:12:09.5Z stderr F E1122 06:12:08.123456       1 seats.go:12] no seat")
    assert_equal ["error", "no seat", "seats.go"],
                 [Severity.name(letters.severity), letters.message, letters.fields["code.file.path"]]
    balancer =
      read(
        "<134>1 2026-11-22T06:12:09Z gate haproxy 7 - - 10.0.0.3:4444 [22/Nov/2026:06:12:08.500] web pages/<NOSRV> " \
        '0/-1/-1/-1/0 503 217 - - SC-- 1/1/0/0/0 0/0 {gate.example|curl} "GET /x HTTP/1.1"'
      )
    assert_equal ["haproxy", "GET /x HTTP/1.1", 503, "SC--", nil, 0],
                 [
                   balancer.service, balancer.message,
                   *balancer.fields.values_at("http.response.status_code", "session.state", "connect_ms", "duration_ms")
                 ]
  end

  # MySQL Reference Manual, "The Slow Query Log" and "The General Query Log": times are ISO 8601 since 5.7.
  def test_statements_with_whole_times
    text =
      "# Time: 2026-11-22T06:12:08.123456Z\n# User@Host: ida[ida] @ hall.example [10.0.0.3]  Id:    17\n# " \
      "Query_time: 1.500000  Lock_time: 0.000100 Rows_sent: 3  Rows_examined: 90000\n" \
      "use seats;\nSET timestamp=1795327927;\nselect *\nfrom seats where error = 'disk failed';\n"
    event = records(text).first
    assert_equal [
      [
        "select *\nfrom seats where error = 'disk failed';", Time.utc(2026, 11, 22, 6, 12, 8, 123_456),
        "notice"
      ], text
    ], [[event.message, event.time, Severity.name(event.severity)], event.raw + event.ending]
    assert_equal ["ida", "10.0.0.3", "17", 1500.0, 0.1, 3, 90_000, "seats"],
                 event.fields.values_at(
                   "user.name", "client.address", "connection.id", "duration_ms", "lock_ms",
                   "db.response.returned_rows", "db.rows_examined", "db.namespace"
                 )
    assert_equal [[:statements, "2026-11-22 06:12:08.123", "informational", "select 'error'"]],
                 told("2026-11-22T06:12:08.123456Z\t   17 Query\tselect 'error'\n")
  end

  # A head may tell a slow statement's time to the second's fraction, or not at all: then it is that of the source.
  def test_slow_statements_without_a_time
    head = "# User@Host: ida[ida] @ localhost []\n# Query_time: 2  Lock_time: 0\n"
    first, second, third = records("#{head}SET timestamp=1795327927.25;\nselect 1;\n#{head}select 2;\n#{head}")
    assert_equal [Time.at(1_795_327_927.25r), []], [first.time, first.inferred]
    assert_equal [NOW, %i[time], "select 2;"], [second.time, second.inferred, second.message]
    assert_in_delta(2000.0, third.fields["duration_ms"])
  end

  def test_level_words_behind_the_part_that_speaks
    {
      "imap-login: Info: Disconnected: auth failed" => "informational", "general: debug 1: exiting" => "debug",
      "lmtp(ida): Error: no box" => "error", "PHP Notice:  old" => "notice", "a failed b: info: c" => "error",
      "More info: it failed" => "error", "net: eth0: warning: link" => "warning", "note: one" => "unset"
    }.each { |text, name| assert_equal name, Severity.name(Reading::SeverityWords.read(text)[0]), text }
  end

  def test_what_stands_behind_a_plain_date_is_no_machine
    {
      "2026-11-22 06:12:08 paper tray: low" => [:stamped, nil],
      "2026-11-22 06:12:08 hall tray[7]: low" => [:rfc3164, "hall"],
      "2026-11-22T06:12:08Z hall tray: low" => [:rfc3164, "hall"],
      "Nov 22 06:12:08 hall tray: low" => [:rfc3164, "hall"], "Nov 22 06:12:08 master: Info: up" => [:stamped, nil]
    }.each { |line, expected| assert_equal expected, [read(line).reader, read(line).machine], line }
  end

  def test_zones_of_dates_with_dashes
    {
      "22-Nov-2026 06:12:08" => 6, "22-Nov-2026 06:12:08 UTC" => 6,
      "22-Nov-2026 06:12:08 America/Argentina/Ushuaia" => 9, "22-Nov-2026 06:12:08 Asia/Tokyo" => 21,
      "2-Nov-2026 6:12:08.5 CET" => 5
    }.each do |stamp, hour|
      assert_equal [hour, "low"], [read("[#{stamp}] low").time.hour, read("[#{stamp}] low").message], stamp
    end
    assert_equal [6, "Paper/Tray low"],
                 [
                   read("22-Nov-2026 06:12:08 Paper/Tray low").time.hour,
                   read("22-Nov-2026 06:12:08 Paper/Tray low").message
                 ], "what is no zone is text"
  end

  # As Java's XMLFormatter writes it: "Java Logging Overview", appendix A, with the date and the nanoseconds that are
  # there since Java 9.
  def test_records_of_java_in_xml
    text = <<~XML
      <?xml version="1.0" encoding="UTF-8" standalone="no"?>
      <!DOCTYPE log SYSTEM "logger.dtd">
      <log>
      <record>
        <date>2026-11-22T06:12:08.658698851Z</date>
        <millis>1795327928658</millis>
        <sequence>3</sequence>
        <logger>hall.Seats</logger>
        <level>CONFIG</level>
        <class>hall.Seats</class>
        <method>open</method>
        <thread>1</thread>
        <message>pool &lt;3&gt;</message>
      </record>
      <record>
        <millis>1795327929000</millis>
        <level>SEVERE</level>
        <message>failed</message>
        <exception>
          <message>java.lang.IllegalStateException: no seat</message>
          <frame>
            <class>hall.Seats</class>
            <method>sell</method>
            <line>12</line>
          </frame>
        </exception>
      </record>
      </log>
    XML
    assert_equal [
      [:java_xml, "2026-11-22 06:12:08.658", "debug", "pool <3>"],
      [:java_xml, "2026-11-22 06:12:09.000", "critical",
       "failed\njava.lang.IllegalStateException: no seat\n\tat hall.Seats.sell(line 12)"]
    ], told(text)
    first, second = records(text)
    assert_equal %w[hall.Seats open 1],
                 first.fields.values_at("logger.name", "code.function.name", "thread.id")
    assert_equal ["java.lang.IllegalStateException", "no seat"],
                 second.fields.values_at("exception.type", "exception.message")
    assert_equal %i[plain], records("<record>\nopen\n</record>\n").map(&:reader).uniq
  end
end
