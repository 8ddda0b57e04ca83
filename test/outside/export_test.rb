# frozen_string_literal: true

require_relative "../test_helper"
require "csv"
require "opentelemetry/proto/logs/v1/logs_pb"
require "roo"
require "syslog/parser"

# What is written in an open form is the same to other programs that read it.
class ExportTest < Northdrift::StoreTest
  include Northdrift

  LINES = [
    '<165>1 2026-11-22T06:12:08.417003Z gate-brn-1 gatectl 412 - [gate@32473 request.id="83e2\"a\]9" berth="3"] no ' \
    "answer from ticketing for 5 s, gate held closed",
    '{"time":"2026-11-22T06:12:09.5Z","level":"error","host":"tix-app-1","service":"bookingd","msg":"=1+1 timed ' \
    'out","duration_ms":30000,"share":0.25,"retry":true,"trace_id":"5b8efff798038103d269b633813fc60c",' \
    '"span_id":"eee19b7ec3c1b174"}',
    '{"time":"2026-11-22T06:12:10Z","level":"warn","host":"tix-app-1","service":"bookingd","msg":"naïve plan for 7 ' \
    '€","trace_id":"not hexadecimal"}',
    "2026-11-22 06:12:11 @SUM(A1) was typed by somebody", "2026-11-22 06:12:12 ERROR colour \e[31mred and a bell \a"
  ].freeze
  SEVERITIES = %w[notice error warning unset error].freeze

  def setup
    super
    import_text("#{LINES.join("\n")}\n")
    @events = question.to_enum(:each).to_a
  end

  def export(form, **options)
    StringIO.new("".b).tap { |out| Server::Export.write(question, form, out, **options) }.string
  end

  # The roo gem is the other library.
  def test_a_workbook_is_opened_by_another_library
    path = write("lines.xlsx", export("xlsx", more: %w[duration_ms berth]))
    rows = Roo::Excelx.new(path).sheet("Lines").to_a
    assert_equal %w[time severity host.name service.name message source line_number duration_ms berth], rows[0]
    assert_equal(SEVERITIES, rows.drop(1).map { |row| row[1] })
    assert_equal(@events.map { |event| Text.display(event.message) }, rows.drop(1).map { |row| row[4] })
    assert_equal([nil, 30_000, nil, nil, nil], rows.drop(1).map { |row| row[7] })
    # Not computed: a cell with a formula would have one.
    book = Roo::Excelx.new(path)
    assert_nil book.formula(3, 5)
    assert_equal "=1+1 timed out", book.cell(3, 5)
  end

  # RFC 5424, sections 6.2.4 to 6.2.7: HOSTNAME has 255 characters at most, APP-NAME 48, PROCID 128, MSGID 32.
  def test_headers_of_syslog_are_as_long_as_they_may_be
    names = { "host" => "h" * 200, "service" => "s" * 100, "process.pid" => "p" * 200, "log.record.id" => "r" * 100 }
    import_text("#{JSON.generate('time' => '2026-11-22T06:12:13Z', 'msg' => 'long names', **names)}\n", name: "l.log")
    header = export("rfc5424").lines.find { |line| line.include?("long names") }.split(" ", 7)
    assert_equal(["h" * 200, "s" * 48, "p" * 128, "r" * 32], header[2, 4])
  end

  # @return [Array<Array(Hash, Opentelemetry::Proto::Logs::V1::LogRecord)>] with attributes of what wrote each
  def otlp_records
    data = export("otlp").lines.map { |line| Opentelemetry::Proto::Logs::V1::LogsData.decode_json(line) }
    data.flat_map(&:resource_logs).flat_map do |resource|
      attributes = resource.resource.attributes.to_h { |pair| [pair.key, pair.value.string_value] }
      resource.scope_logs.flat_map(&:log_records).map { |record| [attributes, record] }
    end
  end

  # Names and types are those of opentelemetry-proto, whose generated classes ship with the OpenTelemetry gem; unknown
  # names raise. Severity numbers are those of the logs data model, appendix B.
  def test_otlp_is_what_the_published_schema_says
    records = otlp_records.sort_by { |_, record| record.time_unix_nano }
    assert_equal(@events.map { |event| event.time_us * 1000 }, records.map { |_, record| record.time_unix_nano })
    assert_equal(@events.map(&:message), records.map { |_, record| record.body.string_value })
    assert_equal(
      [10, 17, 13, 0, 17],
      records.map do |_, record|
        Opentelemetry::Proto::Logs::V1::SeverityNumber.resolve(record.severity_number) || record.severity_number
      end
    )
    assert_equal [
      { "host.name" => "gate-brn-1", "service.name" => "gatectl" },
      { "host.name" => "tix-app-1", "service.name" => "bookingd" }
    ], records.first(2).map(&:first)
    second = records[1].last
    # Protobuf's JSON has bytes in base64, OTLP's has these two in hexadecimal: undone here to see what was written.
    assert_equal(
      %w[5b8efff798038103d269b633813fc60c eee19b7ec3c1b174],
      [second.trace_id, second.span_id].map { |bytes| [bytes].pack("m0") }
    )
    assert_empty records[2].last.trace_id
    values = second.attributes.to_h { |pair| [pair.key, pair.value] }
    assert_equal [30_000, 0.25, true],
                 [values["duration_ms"].int_value, values["share"].double_value, values["retry"].bool_value]
    assert_equal LINES[1], values["log.record.original"].string_value
  end

  # By our own reader, and by the syslog-parser gem, a grammar of RFC 5424.
  def test_syslog_is_read_back_by_two_readers
    text = export("rfc5424").force_encoding(Encoding::UTF_8)
    messages = @events.map { |event| event.message.gsub(/[\x00-\x1F]/) { |char| format("#%03o", char.ord) } }
    severities = @events.map { |event| event.severity == Severity::UNSET ? Severity::INFORMATIONAL : event.severity }
    back = records(text)
    assert_equal(
      @events.map { |event| [event.time_us, event.machine, event.service] },
      back.map { |event| [event.time_us, event.machine, event.service] }
    )
    assert_equal([severities, messages], [back.map(&:severity), back.map { |event| Text.utf8(event.message) }])
    @events.zip(back) do |event, again|
      fields = again.fields.merge(again.constants).transform_values { |value| Text.utf8(value.to_s) }
      assert_equal event.fields.transform_values(&:to_s), fields.slice(*event.fields.keys)
    end
    other = text.lines.map { |line| Syslog::Parser.new.parse(line.chomp) }
    assert_equal(@events.map(&:time_us), other.map { |message| (message.timestamp.to_r * 1_000_000).to_i })
    assert_equal [severities, messages],
                 [other.map(&:severity), other.map { |message| message.msg.to_s.delete_prefix("\uFEFF") }]
    assert_equal(
      @events.map { |event| [event.machine, event.service] },
      other.map { |message| [message.hostname, message.app_name] }
    )
    element = other[0].structured_data[0]
    assert_equal ["northdrift@32473", { "request.id" => '83e2"a]9', "berth" => "3" }], [element.id, element.params]
  end

  # RFC 4180 by Ruby's own csv library; what starts like a formula is text (OWASP, "CSV Injection").
  def test_cells_that_look_like_formulas_are_text
    rows = CSV.parse(export("csv").force_encoding(Encoding::UTF_8), headers: true)
    assert_equal ["'=1+1 timed out", "'@SUM(A1) was typed by somebody"],
                 rows.map { |row| row["message"] }.values_at(1, 3)
    assert_equal(SEVERITIES, rows.map { |row| row["severity"] })
  end

  def test_records_as_they_came
    assert_equal "#{LINES.join("\n")}\n".b, export("raw")
    assert_equal(LINES, export("ndjson").lines.map { |line| JSON.parse(line)["raw"] })
  end
end
