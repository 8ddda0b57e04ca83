# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"

# Every path of the interface, asked with values that make no sense: the answer is of the sender's making or says what
# is wrong with the question, and is never a failure of ours (RFC 9110, section 15.6).
class SenselessTest < Northdrift::AskingTest
  include Northdrift

  PATHS = JSON.parse(File.read(File.join(ROOT, "docs/openapi.json")))["paths"].freeze
  VALUES = [
    "", " ", "0", "-1", "1", "5", "99999999999999999999999", "1e9", "NaN", "null", "true", "x", "P1", "a=b", "\"", "(",
    "text ~ /(/", "severity > ", "host.name = ", "machine", "service", "alder", "2026-11-22T06:00:00Z",
    "2026-11-23T06:00:00Z", "9999-12-31T23:59:59Z", "-62135596800000000", "1795000000000000", "before", "week",
    "Europe/Berlin", "Nowhere/Land", "last 5 minutes", "count()", "p95(x) by host.name by service", "sum(",
    "../../etc/passwd", "%00", "\u0000", "\u{202E}", "é" * 50, "[]", "{}", "x" * 5000
  ].freeze
  NAMES = %w[
    name kind find action pattern types zone given expires keep enabled title status machine service text says severity
    id age size form columns settings host port url token paths samples level person
  ].freeze
  # What does make sense, by the start of the path.
  EXAMPLES = {
    "/api/cases" => { "title" => "stall" }, "/api/searches" => { "name" => "failed", "query" => "find=failed" },
    "/api/parsers" => { "name" => "berths", "pattern" => 'berth (?P<berth>\d+)', "samples" => ["berth 1"] },
    "/api/noise-rules" => { "find" => "failed", "action" => "hide" },
    "/api/logbook-rules" => { "name" => "berths", "kind" => "change", "find" => "berth", "says" => "a berth" },
    "/api/feeds" => { "name" => "hall", "kind" => "udp", "settings" => { "port" => 50_514 } },
    "/api/relays" => { "name" => "out", "kind" => "tcp", "settings" => { "host" => "logs", "port" => 50_515 } }
  }.freeze

  def setup
    super
    lines = Array.new(40) do |index|
      "<11>1 2026-11-22T06:#{format('%02d', index)}:00Z alder app #{index} - - berth #{index} failed took=#{index}ms\n"
    end
    import_text(lines.join)
    EXAMPLES.each do |path, object|
      post_to(path, object)
      assert_operator last_response.status, :<, 300, last_response.body
    end
  end

  # Text of another encoding than the one that addresses are in.
  LATIN = "caf\xE9"

  def value(random) = [junk(random, 2), LATIN][random.rand(8)] || VALUES.sample(random: random)

  # @return [Object] of any type that JSON has
  def junk(random, depth)
    case random.rand(depth.positive? ? 7 : 5)
    when 0 then VALUES.sample(random: random)
    when 1 then random.rand(-10..10)
    when 2 then random.rand * 1e20
    when 3 then [nil, true, false].sample(random: random)
    when 4 then random.rand(2**70)
    when 5 then Array.new(random.rand(4)) { junk(random, depth - 1) }
    else NAMES.sample(random.rand(1..6), random: random).to_h { |name| [name, junk(random, depth - 1)] }
    end
  end

  def parameters(operation, random)
    # Few at a time: what is wrong with one hides what becomes of the next.
    given =
      operation
        .fetch("parameters", [])
        .select { |parameter| parameter["in"] == "query" }
        .sample(random.rand(4), random: random)
    given.to_h do |parameter|
      [parameter["name"], parameter["name"].end_with?("[]") ? [value(random).to_s] : value(random)]
    end
  end

  def body(path, operation, random)
    return {} unless operation["requestBody"]

    sensible =
      EXAMPLES.find { |start,| path.start_with?(start) }&.last ||
      sensible(operation.dig("requestBody", "content", "application/json", "schema") || {})
    names = (sensible.keys | NAMES).sample(random.rand(3), random: random)
    object = random.rand(5).zero? ? junk(random, 2) : sensible.merge(names.to_h { |name| [name, junk(random, 2)] })
    [JSON.generate(object), "{", "", "\xFF"][random.rand(8)] || JSON.generate(object)
  end

  # @return [Hash] what the path may be given, as its document has it
  def sensible(schema)
    schema
      .fetch("properties", {})
      .transform_values do |property|
        next property["enum"].first if property["enum"]

        { "string" => "alder", "integer" => 1, "number" => 1.5, "boolean" => true, "array" => [], "object" => {} }[
          property["type"]
        ]
      end
  end

  def test_nothing_senseless_makes_it_fail
    random = Random.new(9)
    PATHS.each do |path, operations|
      operations.slice("get", "post", "put", "patch", "delete").each do |method, operation|
        12.times do
          query =
            Rack::Utils.build_nested_query(
              parameters(operation, random).transform_values do |given|
                given.is_a?(Array) ? given.map(&:to_s) : given.to_s
              end
            )
          place = path.gsub(/\{\w+\}/) { %w[1 99 x 0 -1 alder 99999999999999999999 caf%E9].sample(random: random) }
          send(
            method, "#{place}?#{query}", body(path, operation, random), HOST.merge("CONTENT_TYPE" => "application/json")
          )
          assert_operator last_response.status, :<, 500,
                          "#{method} #{place}?#{query[0, 300]}: #{last_response.body[0, 300]}"
        end
      end
    end
    # Nothing of it was kept that upsets a page afterwards.
    PATHS.keys.grep_v(/\{/).each do |path|
      get(path, {}, HOST)
      assert_operator last_response.status, :<, 500, path
    end
  end

  def test_text_of_another_encoding_is_told
    {
      "/api/lines?find=caf%E9" => "find", "/api/lines?chip[]=caf%E9" => "chip", "/api/histogram?hide=%FF" => "hide",
      "/api/lines?caf%E9=1" => "caf\\xE9"
    }.each { |path, parameter| assert_equal [parameter, 400], ask(path).values_at("parameter", "status"), path }
    assert_equal 404, ask("/api/lines/caf%E9")["status"]
    assert_equal "body", ask("/api/searches", method: :post, body: "{\"name\":\"caf\xE9\",\"query\":\"\"}")["parameter"]
  end

  def test_what_is_given_once_is_no_list
    {
      "/api/causes?line[]=1" => "line", "/api/windows?zone[a]=b" => "zone", "/api/lines?find[]=x" => "find",
      "/api/lines?chip[a]=x" => "chip", "/api/lines?chip[][a]=x" => "chip", "/api/lines?shift[][a]=x" => "shift"
    }.each { |path, parameter| assert_equal [parameter, 400], ask(path).values_at("parameter", "status"), path }
    assert_equal 1, ask("/api/lines?noise=shown&chip[]=berth&chip[]=%2239%20failed%22", "Page")["lines"].size
  end
end
