# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"
require "opentelemetry/proto/collector/logs/v1/logs_service_pb"

# Numbers that programs write and computers cannot count with: too large, too small, of more digits than are told apart.
# Every answer about them is JSON as RFC 8259 has it, which knows neither infinity nor what is no number (section 6).
class NumbersTest < Northdrift::AskingTest
  include Northdrift

  LINES = [
    '{"time":"2026-11-22T06:00:00Z","msg":"far","load":1e999,"drift":-1e999,"id":123456789012345678901234567890,' \
    '"tiny":1e-400,"big":1.5e308,"long":12345678901234567.25,"zero":-0.0}',
    '{"time":"2026-11-22T06:00:01Z","msg":"near","load":2.5,"drift":-3,"id":7,"tiny":0.5,"big":1,"long":0.1,"zero":0}',
    "2026-11-22T06:00:02Z level=info msg=text load=1e999 drift=NaN big=1e400MB tiny=Infinity id=+7",
    "2026-11-22T06:00:03Z level=info msg=units load=4 big=2MB drift=5ms"
  ].freeze
  FIELDS = %w[load drift id tiny big long zero].freeze

  def setup
    super
    import_text(LINES.map { |line| "#{line}\n" }.join)
  end

  # @return [Array<Hash>] what a survey tells, one object a line
  def told(path)
    get(path, {}, HOST)
    assert_equal 200, last_response.status, last_response.body
    last_response.body.each_line.map { |line| JSON.parse(line, allow_nan: false) }
  end

  def test_lines_and_their_fields
    lines = ask("/api/lines", "Page")["lines"]
    assert_equal LINES.size, lines.size
    assert_equal ["1e999", "-1e999", "123456789012345678901234567890", 0.0, 1.5e308],
                 lines[0]["fields"].values_at("load", "drift", "id", "tiny", "big")
    lines.each { |line| ask("/api/lines/#{line['id']}", "LineDetail") }
    assert_equal(LINES, lines.map { |line| ask("/api/lines/#{line['id']}")["raw"] })
  end

  # A number that is none is neither more nor less than any.
  {
    "load > 1" => 2, "load < 1" => 0, "load >= 2.5" => 2, "drift < 0" => 1, "big > 1MB" => 1, "big > 1" => 1,
    "id = 7" => 2, "id > 100" => 1, "tiny >= 0" => 2, "zero = 0" => 2, "load = 1e999" => 2, "load != 1e999" => 2,
    "has load" => 4, "load in (4, 2.5)" => 2
  }.each do |find, count|
    define_method("test_comparison_#{find.gsub(/\W+/, '_')}") do
      assert_equal count, ask("/api/lines?find=#{Rack::Utils.escape(find)}", "Page")["lines"].size, find
    end
  end

  # What a person clicks on is what was told: with all its digits.
  def test_what_is_told_is_found_again
    values = [0.31027690474366443, 1e300, 5e-324, 1e16, 637.704, -2.5e-7, 123_456_789.123456789]
    import_text(
      values
        .map { |value| "#{JSON.generate('time' => '2026-11-22T06:00:05Z', 'msg' => 'exact', 'share' => value)}\n" }
        .join, name: "exact.log"
    )
    told = ask("/api/lines?find=exact", "Page")["lines"].map { |line| line["fields"]["share"] }
    assert_equal values, told
    last_response.body.scan(/"share":([^,}]+)/).flatten.uniq.each do |text|
      assert_equal 1, ask("/api/lines?find=#{Rack::Utils.escape("share = #{text}")}")["lines"].size, text
    end
  end

  # Identifiers of more digits than a Float or a page's script tells apart.
  def test_long_identifiers_are_told_apart
    numbers = (1..5).map { |index| 1_795_327_928_417_000_000 + index }
    import_text(
      numbers
        .flat_map do |number|
          [
            %({"time":"2026-11-22T06:00:06Z","msg":"ticket","order":#{number}}\n),
            "2026-11-22T06:00:07Z level=info msg=ticket order=#{number}\n"
          ]
        end
        .join, name: "orders.log"
    )
    told = ask("/api/lines?find=ticket", "Page")["lines"].map { |line| line["fields"]["order"] }
    assert_equal numbers.flat_map { |number| [number.to_s] * 2 }.sort, told.sort
    numbers.each do |number|
      assert_equal 2, ask("/api/lines?find=#{Rack::Utils.escape("order = #{number}")}")["lines"].size, number
    end
    assert_equal 6, ask("/api/lines?find=#{Rack::Utils.escape("order > #{numbers[1]}")}")["lines"].size
    assert_equal 4, ask("/api/lines?find=#{Rack::Utils.escape("order <= #{numbers[1]}")}")["lines"].size
  end

  def test_measures_of_them
    %w[sum min max avg p50 p95 p99 distinct].product(FIELDS).each do |way, field|
      whole = told("/api/measurements?measure=#{Rack::Utils.escape("#{way}(#{field})")}").last
      refute_includes whole.to_s, "Infinity", "#{way} of #{field}"
    end
    assert_in_delta(4.0, told("/api/measurements?measure=max(load)").last["answer"]["whole"]["value"])
  end

  def test_measures_over_time_and_by_field
    [
      "avg(load) per 1 s", "max(big) by msg per auto", "sum(long) by id", "count by load, drift",
      "p95(drift) by host.name"
    ].each { |measure| refute_empty told("/api/measurements?measure=#{Rack::Utils.escape(measure)}") }
  end

  def test_the_table_of_fields
    fields = told("/api/fields").last["answer"]["fields"].to_h { |field| [field["name"], field] }
    assert_empty FIELDS - fields.keys
    assert_equal(%w[number number], fields.values_at("long", "zero").map { |field| field["type"] })
    assert_equal 4, fields["load"]["count"]
    told("/api/fields?find=far&with=reader+%3D+json")
  end

  def test_exports_of_them
    Server::Export::FORMS.each_key do |form|
      post("/api/exports?form=#{form}", "", HOST)
      get("/api/exports/#{JSON.parse(last_response.body)['id']}/file", {}, HOST)
      assert_equal 200, last_response.status, form
      last_response.body.each_line { |line| JSON.parse(line, allow_nan: false) } if %w[ndjson otlp].include?(form)
    end
  end

  # The published schema has 64 bits for whole numbers (opentelemetry-proto, common.proto, int_value); its own library
  # reads the file.
  def test_opentelemetry_takes_what_is_exported
    post("/api/exports?form=otlp", "", HOST)
    get("/api/exports/#{JSON.parse(last_response.body)['id']}/file", {}, HOST)
    requests =
      last_response.body.lines.map do |line|
        Opentelemetry::Proto::Collector::Logs::V1::ExportLogsServiceRequest.decode_json(line)
      end
    attributes =
      requests
        .flat_map do |request|
          request.resource_logs.flat_map { |resource| resource.scope_logs.flat_map { |scope| scope.log_records.to_a } }
        end
        .first
        .attributes
        .to_h { |pair| [pair.key, pair.value] }
    assert_equal ["123456789012345678901234567890", "1e999", 1.5e308],
                 [attributes["id"].string_value, attributes["load"].string_value, attributes["big"].double_value]
  end
end
