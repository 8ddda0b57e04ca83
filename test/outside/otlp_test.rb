# frozen_string_literal: true

require_relative "../test_helper"
require "json"
require "opentelemetry/proto/collector/logs/v1/logs_service_pb"

# The protocol's published schema (the gem opentelemetry-exporter-otlp-logs has what protoc made of it): requests put
# together at random must be read the same from both of its encodings, and as what was put into them.
class OtlpTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  LOGS = Opentelemetry::Proto::Logs::V1
  COMMON = Opentelemetry::Proto::Common::V1
  RESOURCE = Opentelemetry::Proto::Resource::V1
  REQUEST = Opentelemetry::Proto::Collector::Logs::V1::ExportLogsServiceRequest
  TEXTS = [
    "", "voucher jammed", "quote \" and \\ backslash", "tab\tand\nline", "naïve жук 日本 🦀", "{\"inner\":1}",
    "a=b c=\"d e\"", "}]} \"logRecords\":[{", "\u0000\u001b[31m"
  ].freeze
  NAMES = ["berth", "http.request.method", "a b", "жук", "x\"y", "thread.id"].freeze

  def any(random, depth = 2)
    case random.rand(depth.positive? ? 7 : 4)
    when 0
      COMMON::AnyValue.new(string_value: TEXTS.sample(random: random))
    when 1
      COMMON::AnyValue.new(bool_value: random.rand(2).zero?)
    when 2
      COMMON::AnyValue.new(
        int_value: [0, -1, 42, (1 << 63) - 1, -(1 << 63), random.rand(1 << 40)].sample(random: random)
      )
    when 3
      COMMON::AnyValue.new(double_value: [0.0, -2.5, 1e300, 1e-300, random.rand].sample(random: random))
    when 4
      COMMON::AnyValue.new(
        array_value: COMMON::ArrayValue.new(values: Array.new(random.rand(3)) { any(random, depth - 1) })
      )
    when 5
      COMMON::AnyValue.new(kvlist_value: COMMON::KeyValueList.new(values: pairs(random, depth - 1)))
    else
      COMMON::AnyValue.new
    end
  end

  def pairs(random, depth = 2)
    NAMES
      .sample(random.rand(4), random: random)
      .map { |name| COMMON::KeyValue.new(key: name, value: any(random, depth)) }
  end

  def record(random)
    LOGS::LogRecord.new(
      time_unix_nano: random.rand(5).zero? ? 0 : 1_795_327_928_000_000_000 + random.rand(1 << 50),
      observed_time_unix_nano: random.rand(3).zero? ? 0 : 1_795_400_000_123_456_789, severity_number: random.rand(25),
      severity_text: ["", "WARN", "Information", "odd"].sample(random: random), body: any(random),
      attributes: pairs(random), trace_id: random.rand(3).zero? ? "" : random.bytes(16),
      span_id: random.rand(3).zero? ? "" : random.bytes(8)
    )
  end

  def request(random)
    REQUEST.new(resource_logs: Array.new(random.rand(1..3)) do
      attributes = [
        COMMON::KeyValue.new(key: "host.name", value: COMMON::AnyValue.new(string_value: "alder")), *pairs(random, 1)
      ]
      scopes =
        Array.new(random.rand(1..2)) do
          LOGS::ScopeLogs.new(
            scope: COMMON::InstrumentationScope.new(name: ["", "desk"].sample(random: random)),
            log_records: Array.new(random.rand(3)) { record(random) }
          )
        end
      LOGS::ResourceLogs.new(resource: RESOURCE::Resource.new(attributes: attributes), scope_logs: scopes)
    end)
  end

  # OTLP's own JSON ("JSON Protobuf Encoding"): as protobuf's mapping, but identifiers in hexadecimal, and numbers of
  # enumerations.
  def json(request)
    text = REQUEST.encode_json(request, format_enums_as_integers: true)
    text.gsub(/"(traceId|spanId)":"([^"]*)"/) do
      "\"#{Regexp.last_match(1)}\":\"#{Regexp.last_match(2).unpack1('m').unpack1('H*')}\""
    end
  end

  def told(lines)
    lines
      .map { |line| read(line) }
      .map do |event|
        [
          event.reader, event.stamped && event.time_us, event.severity, event.machine, event.service, event.message,
          event.fields
        ]
      end
  end

  # @return [Object] as JSON has it
  def plain(any)
    case any.value
    when :string_value then any.string_value
    when :bool_value then any.bool_value
    when :int_value then any.int_value
    when :double_value then any.double_value
    when :array_value then any.array_value.values.map { |one| plain(one) }
    when :kvlist_value then any.kvlist_value.values.to_h { |pair| [pair.key, plain(pair.value)] }
    end
  end

  def records(request)
    request.resource_logs.flat_map { |resource| resource.scope_logs.flat_map { |scope| scope.log_records.to_a } }
  end

  def test_both_encodings_are_read_the_same
    random = Random.new(17)
    seen = 0
    150.times do
      wanted = request(random)
      binary = Intake::Live::OtlpRequest.lines(REQUEST.encode(wanted), Intake::Live::OtlpRequest::PROTOBUF)
      text = Intake::Live::OtlpRequest.lines(json(wanted), Intake::Live::OtlpRequest::JSON)
      told(binary)
        .zip(told(text), text)
        .each { |one, other, line| assert_equal one.inspect, other.inspect, Text.utf8(line) }
      assert_equal records(wanted).size, binary.size
      seen += binary.size
    end
    assert_operator seen, :>, 300
  end

  # Logs data model: a record's time, else when it was observed; SeverityNumber 1 to 24; the body; attributes.
  def test_what_was_put_in_comes_out
    random = Random.new(18)
    120.times do
      wanted = request(random)
      records(wanted).zip(
        Intake::Live::OtlpRequest.lines(REQUEST.encode(wanted), Intake::Live::OtlpRequest::PROTOBUF)
      ) do |record, line|
        event = read(line)
        nanos = [record.time_unix_nano, record.observed_time_unix_nano].find(&:positive?)
        assert_equal [:otlp_json, nanos ? nanos / 1000 : false], [event.reader, event.stamped && event.time_us], line
        number = LOGS::LogRecord.new(severity_number: record.severity_number).to_h.fetch(:severity_number, 0)
        number = LOGS::SeverityNumber.resolve(number) || 0 if number.is_a?(Symbol)
        assert_equal Severity.from_opentelemetry(number), event.severity, line if number.positive?
        body = record.body && plain(record.body)
        assert_equal(
          if body.is_a?(String)
            body
          else
            (body.nil? ? "" : body)
          end,
          body.is_a?(String) || body.nil? ? Text.utf8(event.message) : JSON.parse(Text.utf8(event.message)), line
        )
        record.attributes.each do |pair|
          value = plain(pair.value)
          next if value.nil? || value.is_a?(Hash) || value.is_a?(Array)

          kept = event.fields[Reading::FieldNames.common(pair.key)]
          assert_equal value, kept.is_a?(String) ? Text.utf8(kept) : kept, "#{pair.key} of #{Text.utf8(line)}"
        end
        assert_equal record.trace_id.unpack1("H*"), event.fields["trace.id"].to_s
      end
    end
  end

  # What no library would send, and somebody will: the rest of the request is kept, or all of it refused with a word.
  {
    '{"resourceLogs":[{"scopeLogs":[{"logRecords":[{"body":{"doubleValue":1e999},"attributes":[{"key":"x",' \
    '"value":{"doubleValue":-1e999}}]}]}]}]}' =>
      1,
    '{"resourceLogs":[{"scopeLogs":[{"logRecords":[{"body":{"stringValue":7},"traceId":12,"spanId":null,' \
    '"severityNumber":"17","timeUnixNano":1795327928000000000}]}]}]}' =>
      1, '{"resource_logs":[{"scope_logs":[{"log_records":[{"body":{"string_value":"old spelling"}}]}]}]}' => 1,
    '{"resourceLogs":[{"scopeLogs":[{"scope":{"name":5},"logRecords":[{"eventName":7,"attributes":[null,7,' \
    '{"key":"a"},{"value":{}},{"key":1,"value":{"intValue":"x"}}]}]}]}]}' =>
      1, '{"resourceLogs":[]}' => 0, "{}" => 0, '{"resourceLogs":[{"scopeLogs":[{}]},{}]}' => 0,
    '{"resourceLogs":7}' => nil, "[]" => nil, "7" => nil, "" => nil,
    '{"resourceLogs":[{"scopeLogs":[{"logRecords":[7]}]}]}' => nil, '{"resourceLogs":[7]}' => nil,
    '{"resourceLogs":[{"resource":7,"scopeLogs":[{"scope":[],"logRecords":[{}]}]}]}' => 1
  }.each_with_index do |(text, count), index|
    define_method("test_odd_request_#{index}") do
      if count.nil?
        next(
          assert_raises(Intake::Live::OtlpRequest::Malformed, text) do
            Intake::Live::OtlpRequest.lines(text, Intake::Live::OtlpRequest::JSON)
          end
        )
      end

      lines = Intake::Live::OtlpRequest.lines(text, Intake::Live::OtlpRequest::JSON)
      assert_equal count, lines.size
      lines.each { |line| assert_nil read(line).note, line }
    end
  end

  def test_what_is_no_protobuf_is_refused
    random = Random.new(19)
    200.times do
      bytes = random.bytes(random.rand(1..60))
      Intake::Live::OtlpRequest.lines(bytes, Intake::Live::OtlpRequest::PROTOBUF).each { |line| read(line) }
    rescue Intake::Live::OtlpRequest::Malformed => error
      refute_empty error.message
    end
  end
end
