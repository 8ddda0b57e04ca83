# frozen_string_literal: true

require_relative "../test_helper"
require "open3"
require "opentelemetry-logs-sdk"
require "opentelemetry-exporter-otlp-logs"

# Real clients of the protocols, as people have them.
class ClientsTest < Northdrift::StoreTest
  include Northdrift
  include Collecting

  TOKEN = "sesame-sesame-sesame"

  def teardown
    stop_collecting
    super
  end

  def run!(*command, input: "", env: {})
    output, status = Open3.capture2e(env, *command, stdin_data: input)
    assert_predicate status, :success?, "#{command.join(' ')}: #{output}"
    output
  end

  def listener(kind)
    port = free_port
    feed(kind, port: port, token: (TOKEN if kind == "http"))
    collect
    kind == "udp" ? eventually { File.read("/proc/net/udp").include?(format(":%04X ", port)) } : listening(port)
    port
  end

  # @return [Array] reader, service, severity and message of the one line that came
  def came(text)
    come(1, "\"#{text}\"")
    event = question("\"#{text}\"").page.events.first
    [event.kind.reader.to_s, event.service, Severity.name(event.severity), event.message]
  end

  # logger(1) of util-linux, in its protocols and framings.
  [["--rfc3164"], ["--rfc5424"]].each do |form|
    reader = form[0].delete("-")
    define_method("test_logger_udp_#{reader}") do
      port = listener("udp")
      run!(
        "logger", "--server", "127.0.0.1", "--port", port.to_s, "--udp", *form, "--tag", "quay", "--priority",
        "local3.warning", "berth seven #{reader}"
      )
      assert_equal [reader, "quay", "warning", "berth seven #{reader}"], came("berth seven #{reader}")
    end

    { "lines" => [], "counted" => ["--octet-count"] }.each do |name, framing|
      define_method("test_logger_tcp_#{reader}_#{name}") do
        port = listener("tcp")
        run!(
          "logger", "--server", "127.0.0.1", "--port", port.to_s, "--tcp", *framing, *form, "--tag", "quay",
          "--priority", "auth.crit", "berth eight #{name}"
        )
        assert_equal [reader, "quay", "critical", "berth eight #{name}"], came("berth eight #{name}")
      end
    end
  end

  # logging.handlers.SysLogHandler of Python's standard library ends its datagrams with NUL.
  def test_python_syslog_handler
    skip "there is no python3" unless system("command -v python3 >/dev/null")
    port = listener("udp")
    run!("python3", "-c", <<~PYTHON)
      import logging, logging.handlers
      log = logging.getLogger("quay")
      log.addHandler(logging.handlers.SysLogHandler(address=("127.0.0.1", #{port}), facility="local1"))
      log.error("crane %s stopped", "four")
    PYTHON
    assert_equal ["error", "crane four stopped"], came("crane four stopped").values_at(2, 3)
  end

  def test_openssl_s_client
    port = listener("tls")
    text = "<13>1 2026-11-23T10:00:00Z alder app 7 - - sealed by openssl"
    output =
      run!(
        "openssl", "s_client", "-connect", "127.0.0.1:#{port}", "-CAfile", File.join(@data, "collector.crt"),
        "-verify_return_error", "-verify_hostname", "localhost", "-quiet", "-no_ign_eof", input: "#{text}\n"
      )
    assert_includes output, "verify return:1"
    assert_equal "sealed by openssl", came("sealed by openssl").last
  end

  # The exporter of the OpenTelemetry project for Ruby: protobuf, gzip.
  def test_an_opentelemetry_exporter
    port = listener("http")
    exporter =
      OpenTelemetry::Exporter::OTLP::Logs::LogsExporter.new(
        endpoint: "http://127.0.0.1:#{port}/v1/logs", headers: { "authorization" => "Bearer #{TOKEN}" }
      )
    resource = OpenTelemetry::SDK::Resources::Resource.create("host.name" => "alder", "service.name" => "ticketd")
    provider = OpenTelemetry::SDK::Logs::LoggerProvider.new(resource: resource)
    provider.add_log_record_processor(OpenTelemetry::SDK::Logs::Export::SimpleLogRecordProcessor.new(exporter))
    at = Time.at(1_795_427_000, 123_456_789, :nanosecond)
    provider.logger(name: "desk", version: "1").on_emit(
      timestamp: at, severity_number: 17, severity_text: "ERROR", body: "voucher jammed",
      attributes: { "berth" => 4, "open" => false, "who" => "ida" },
      trace_id: ["5b8efff798038103d269b633813fc60c"].pack("H*"), span_id: ["eee19b7ec3c1b174"].pack("H*")
    )
    provider.shutdown
    come(1)
    event = question("voucher").page.events.first
    assert_equal ["alder", "ticketd", "error", 1_795_427_000_123_456, "voucher jammed"],
                 [event.machine, event.service, Severity.name(event.severity), event.time_us, event.message]
    assert_equal(
      {
        "berth" => 4, "open" => false, "who" => "ida", "trace.id" => "5b8efff798038103d269b633813fc60c",
        "span.id" => "eee19b7ec3c1b174", "logger.name" => "desk"
      }, event.fields.slice("berth", "open", "who", "trace.id", "span.id", "logger.name")
    )
  end

  # The example of the protocol's own repository (opentelemetry-proto, examples/logs.json; from memory), sent with curl.
  def test_curl_with_the_protocols_example
    port = listener("http")
    body = <<~JSON
      {"resourceLogs":[{"resource":{"attributes":[{"key":"service.name","value":{"stringValue":"my.service"}}]},"scopeLogs":[{"scope":{"name":"my.library","version":"1.0.0","attributes":[{"key":"my.scope.attribute",
      "value":{"stringValue":"some scope attribute"}}]},"logRecords":[{"timeUnixNano":"1544712660300000000","observedTimeUnixNano":"1544712660300000000","severityNumber":10,"severityText":"Information",
      "traceId":"5B8EFFF798038103D269B633813FC60C","spanId":"EEE19B7EC3C1B174","body":{"stringValue":"Example log record"},"attributes":[{"key":"string.attribute","value":{"stringValue":"some string"}},
      {"key":"boolean.attribute","value":{"boolValue":true}},{"key":"int.attribute","value":{"intValue":"10"}},{"key":"double.attribute","value":{"doubleValue":637.704}},
      {"key":"array.attribute","value":{"arrayValue":{"values":[{"stringValue":"many"},{"stringValue":"values"}]}}},{"key":"map.attribute","value":{"kvlistValue":{"values":[{"key":"some.map.key",
      "value":{"stringValue":"some value"}}]}}}]}]}]}]}
    JSON
    answer =
      run!(
        "curl", "-sS", "--fail-with-body", "-H", "Authorization: Bearer #{TOKEN}", "-H",
        "Content-Type: application/json", "--data-binary", "@-", "http://127.0.0.1:#{port}/v1/logs", input: body
      )
    assert_equal "{}", answer
    event = question("\"Example log record\"").page.events.first
    assert_equal [1_544_712_660_300_000, "notice", "my.service", 10, true, 637.704, '["many","values"]', "some value"],
                 [
                   event.time_us, Severity.name(event.severity), event.service,
                   *event.fields.values_at(
                     "int.attribute", "boolean.attribute", "double.attribute", "array.attribute",
                     "map.attribute.some.map.key"
                   )
                 ]
  end
end
