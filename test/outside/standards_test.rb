# frozen_string_literal: true

require_relative "../test_helper"

# Published standards and their worked examples. The texts of the examples are from memory of the RFCs, which are
# public.
class StandardsTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  BOM = "\xEF\xBB\xBF".b

  # RFC 5424, section 6.5, example 1
  def test_rfc5424_example_1
    event =
      read(
        "<34>1 2003-10-11T22:14:15.003Z mymachine.example.com su - ID47 - ".b + BOM +
          "'su root' failed for lonvick on /dev/pts/8".b
      )
    assert_equal [:rfc5424, 2, "auth", "mymachine.example.com", "su", "'su root' failed for lonvick on /dev/pts/8"],
                 [
                   event.reader, event.severity, event.constants["syslog.facility"], event.machine, event.service,
                   event.message
                 ]
    assert_equal Time.utc(2003, 10, 11, 22, 14, 15, 3000), event.time
    assert_equal "ID47", event.fields["log.record.id"]
    refute event.fields.key?("process.pid")
  end

  # Example 2: an offset, microseconds, a message without BOM
  def test_rfc5424_example_2
    event = read("<165>1 2003-08-24T05:14:15.000003-07:00 192.0.2.1 myproc 8710 - - %% It's time to make the do-nuts.")
    assert_equal Time.utc(2003, 8, 24, 12, 14, 15, 3), event.time
    assert_equal [5, "local4", "192.0.2.1", "8710", "%% It's time to make the do-nuts."],
                 [
                   event.severity, event.constants["syslog.facility"], event.machine, event.fields["process.pid"],
                   event.message
                 ]
  end

  # Example 3: structured data
  def test_rfc5424_example_3
    event =
      read(
        '<165>1 2003-10-11T22:14:15.003Z mymachine.example.com evntslog - ID47 [exampleSDID@32473 iut="3" ' \
        'eventSource="Application" eventID="1011"] '.b +
          BOM + "An application event log entry...".b
      )
    assert_equal(
      { "log.record.id" => "ID47", "iut" => "3", "eventSource" => "Application", "eventID" => "1011" }, event.fields
    )
    assert_equal "An application event log entry...", event.message
  end

  # Example 4: structured data only
  def test_rfc5424_example_4
    event =
      read(
        '<165>1 2003-10-11T22:14:15.003Z mymachine.example.com evntslog - ID47 [exampleSDID@32473 iut="3" ' \
        'eventSource="Application" eventID="1011"][examplePriority@32473 class="high"]'
      )
    assert_equal ["high", ""], [event.fields["class"], event.message]
  end

  # Section 6.3.5, examples of valid structured data: elements may stand side by side; an escaped value
  def test_rfc5424_escapes
    assert_equal 'a "quote" \\ and ]', read('<13>1 - h a - - [x@1 v="a \"quote\" \\\\ and \]"] m').fields["v"]
  end

  # RFC 3164, section 5.4, example 1
  def test_rfc3164_example_1
    event =
      read(
        "<34>Oct 11 22:14:15 mymachine su: 'su root' failed for lonvick on /dev/pts/8", reference: Time.utc(2001, 8, 1)
      )
    assert_equal [:rfc3164, 2, "auth", "mymachine", "su"],
                 [event.reader, event.severity, event.constants["syslog.facility"], event.machine, event.service]
    assert_equal Time.utc(2000, 10, 11, 22, 14, 15), event.time
  end

  # Example 2: no PRI, no header: a message all the same
  def test_rfc3164_example_2 = assert_equal("Use the BFG!", read("Use the BFG!").message)

  # Example 3: the year where the machine should be; "CST" is taken for the machine, as a relay would
  def test_rfc3164_example_3
    event =
      read(
        "<165>Aug 24 05:34:00 CST 1987 mymachine myproc[10]: %% It's time to make the do-nuts.  %%  Ingredients: " \
        "Mix=OK, Jelly=OK #"
      )
    assert_equal [5, "CST", 8, 24], [event.severity, event.machine, event.time.month, event.time.day]
    assert_includes event.message, "do-nuts"
  end

  # Example 4: no valid stamp; only the PRI tells something
  def test_rfc3164_example_4
    event = read("<0>1990 Oct 22 10:52:01 TZ-6 scapegoat.dmz.example.org 10.1.2.3 sched[0]: That's All Folks!")
    assert_equal [0, "kern", %i[time]], [event.severity, event.constants["syslog.facility"], event.inferred]
    assert_includes event.message, "That's All Folks!"
  end

  # RFC 5424, section 6.2.1, table 2: names of the severities
  def test_severity_table
    table = {
      0 => "Emergency", 1 => "Alert", 2 => "Critical", 3 => "Error", 4 => "Warning", 5 => "Notice",
      6 => "Informational", 7 => "Debug"
    }
    table.each { |code, name| assert_equal name.downcase, Severity.name(code) }
  end

  # OpenTelemetry logs data model, appendix B, "SeverityNumber example mappings", column Syslog: FATAL 21 emergency,
  # ERROR3 19 alert, ERROR2 18 critical, ERROR 17 error, WARN 13 warning, INFO2 10 notice, INFO 9 informational, DEBUG 5
  # debug
  def test_opentelemetry_mapping
    mapping = {
      "emergency" => 21, "alert" => 19, "critical" => 18, "error" => 17, "warning" => 13, "notice" => 10,
      "informational" => 9, "debug" => 5
    }
    mapping.each do |name, number|
      assert_equal number, Severity::OPENTELEMETRY[Severity::NAMES.index(name)]
      assert_equal name, Severity.name(Severity.from_opentelemetry(number))
    end
  end

  # The line with which the documentation of the Common Log Format explains it (from memory of that public text).
  def test_common_log_format
    event = read('127.0.0.1 - frank [10/Oct/2000:13:55:36 -0700] "GET /apache_pb.gif HTTP/1.0" 200 2326')
    assert_equal Time.utc(2000, 10, 10, 20, 55, 36), event.time
    assert_equal ["127.0.0.1", "frank", "GET", "/apache_pb.gif", "1.0", 200, 2326],
                 event.fields.values_at(
                   "client.address", "user.name", "http.request.method", "url.original", "network.protocol.version",
                   "http.response.status_code", "http.response.body.size"
                 )
  end

  # RFC 3339, section 5.8, examples: instants that must be equal
  def test_rfc3339_examples
    assert_equal Time.utc(1985, 4, 12, 23, 20, 50, 520_000), read("1985-04-12T23:20:50.52Z x").time
    assert_equal Time.utc(1996, 12, 20, 0, 39, 57), read("1996-12-19T16:39:57-08:00 x").time
    assert_equal Time.utc(1991, 1, 1), read("1990-12-31T23:59:60Z x").time # the leap second, as POSIX counts
  end
end
