# frozen_string_literal: true

require_relative "../test_helper"
require "csv"
require "json_schemer"
require "rack/test"

# Every answer is held against docs/openapi.json.
class ApiTest < Northdrift::StoreTest
  include Northdrift
  include Rack::Test::Methods

  OPENAPI = JSON.parse(File.read(File.join(ROOT, "docs/openapi.json")))
  DOCUMENT = JSONSchemer.openapi(OPENAPI)
  HOST = { "HTTP_HOST" => "127.0.0.1:4280" }.freeze

  def app = @app ||= Server::App.build(@data)

  def ask(path, **params)
    get(path, params.transform_keys(&:to_s), HOST)
    checked(path)
  end

  # @return [Hash] the answer, after its schema was checked
  def checked(path, method = "get")
    template = OPENAPI["paths"].keys.find { |known| path.match?(/\A#{known.gsub(/\{\w+\}/, '[^/]+')}\z/) }
    responses = OPENAPI.dig("paths", template, method, "responses")
    status = responses.key?(last_response.status.to_s) ? last_response.status.to_s : "default"
    type = last_response.content_type.split(";").first
    assert responses.dig(status, "content", type),
           "#{path}: #{last_response.status} #{type} is not documented: #{last_response.body}"
    bodies =
      if type == "application/x-ndjson"
        last_response.body.lines.map { |line| JSON.parse(line) }
      else
        [JSON.parse(last_response.body)]
      end
    name = responses.dig(status, "content", type, "schema", "$ref").split("/").last
    bodies.each do |body|
      assert_empty DOCUMENT.schema(name).validate(body).map { |error| error["error"] }, "#{path} against #{name}"
    end
    bodies.last
  end

  # @return [Hash] the whole answer of a survey
  def survey(path, **params)
    last = ask(path, **params)
    assert_equal 1, last["done"]
    last["answer"]
  end

  def setup
    super
    import_text("#{Examples::ALL.keys.reject { |line| line == 'Use the BFG!' }.join("\n")}\n")
  end

  def test_the_document_is_valid = assert_predicate(DOCUMENT, :valid?)

  def test_lines_and_a_line
    page = ask("/api/lines", find: "severity >= error")
    assert_equal 6, page["lines"].size
    assert_equal(page["lines"].map { |line| line["time_us"] }.sort, page["lines"].map { |line| line["time_us"] })
    detail = ask("/api/lines/#{ask('/api/lines', find: 'BK-1')['lines'][0]['id']}")
    assert_equal ["access_log", "HTTP status class 5xx", []],
                 [detail["reader"]["name"], detail["severity_rule"], detail["inferred"]]
    assert_equal Examples::ALL.keys.index { |line| line.include?("BK-1 HTTP") } + 1, detail["line_number"]
    assert_equal 404, ask("/api/lines/99")["status"]
  end

  def test_histogram_total_and_lanes
    whole = ask("/api/histogram")
    assert_equal ask("/api/status")["lines"], whole["total"]
    lanes = ask("/api/histogram", by: "machine", find: "has host.name")
    assert_equal(lanes["total"], lanes["series"].sum { |series| series["counts"].sum { |_, *n| n.sum } })
    assert_includes lanes["series"].map { |series| series["name"] }, "gate-brn-1"
  end

  def test_the_other_side_beside_the_histogram
    window = { from: micros(Time.utc(2026, 11, 22)), to: micros(Time.utc(2026, 11, 23)) }
    beside = ask("/api/histogram", **window, with: "2026-11-20T00:00:00Z/2026-11-26T00:00:00Z")
    assert_equal beside["steps"], beside["beside"].size
    assert_in_delta ask("/api/histogram", from: micros(Time.utc(2026, 11, 20)), to: micros(Time.utc(2026, 11, 26)))[
                      "total"
                    ] / 6.0, beside["beside"].sum, 0.5
    assert_nil ask("/api/histogram")["beside"]
  end

  def test_patterns_and_what_changed
    table = survey("/api/patterns", find: "has host.name")
    assert_equal [ask("/api/histogram", find: "has host.name")["total"]] * 2,
                 [table["total"], table["patterns"].sum { |pattern| pattern["count"] }]
    assert_equal({}, table["changes"])
    compared =
      survey("/api/patterns", with: "day", from: micros(Time.utc(2026, 11, 22)), to: micros(Time.utc(2026, 11, 23)))
    assert_equal compared["found"], compared["changes"].values.sum
    assert_equal compared["from_us"] - 86_400_000_000, compared["against_from_us"]
    line = ask("/api/lines", find: "BK-1")["lines"][0]
    pattern = ask("/api/lines/#{line['id']}")["pattern"]
    assert_equal "POST … HTTP/…", pattern["text"]
    assert_equal(
      [line["id"]], ask("/api/lines", find: "pattern = #{pattern['name']}")["lines"].map { |found| found["id"] }
    )
    assert_equal 400, ask("/api/patterns", with: "never")["status"]
    opened = survey("/api/patterns/#{pattern['name']}")
    assert_equal [1, ["1.1"]], [opened["total"], opened["places"].last["values"].map { |value| value["value"] }]
    assert_equal 404, ask("/api/patterns/P99999")["status"]
  end

  def test_fields_words_and_measures
    total = ask("/api/histogram")["total"]
    fields = survey("/api/fields")
    assert_equal total, fields["total"]
    service = fields["fields"].find { |field| field["name"] == "service.name" }
    assert_equal(service["count"], service["values"].sum { |value| value["count"] })
    assert_equal ask("/api/histogram", find: "has service.name")["total"], service["count"]
    assert_operator survey("/api/fields", find: "severity >= error")["set_against"], :>, 0
    words = survey("/api/words", with: "day")
    words["words"]
      .first(5)
      .each { |word| assert_operator ask("/api/histogram", find: word["word"])["total"], :>=, word["count"] }
    measured = survey("/api/measurements", measure: "count by severity per hour")
    assert_equal [total, total], [measured["whole"]["value"], measured["groups"].sum { |group| group["value"] }]
    assert_equal "count", survey("/api/measurements")["aggregate"]
    mistake = ask("/api/measurements", measure: "p95(durtion)")
    assert_equal [422, "/problems/mistake-in-measure", 5], mistake.values_at("status", "type", "column")
  end

  # What has begun cannot get another status: the last line says that it is not the whole.
  def test_an_answer_that_is_cut_short_says_so
    step = Store::Scan.method(:each)
    Store::Scan.define_singleton_method(:each) { |*| raise SQLite3::IOException, "disk I/O error" }
    _, log = capture_io { ask("/api/words") }
    assert_includes log, "disk I/O error"
    last = checked("/api/words")
    assert_equal ["/problems/cut-short", false], [last["problem"]["type"], last["problem"]["detail"].include?("SQLite")]
  ensure
    Store::Scan.define_singleton_method(:each, step)
  end

  def test_a_comparison_with_another_machine_or_window
    assert_equal 1,
                 survey("/api/patterns", find: "BK-1", with: "2026-01-01T00:00:00Z/2026-12-31T00:00:00Z")[
                   "changes"
                 ].values.sum
    survey("/api/fields", find: "host.name = gate-brn-1", with: "host.name = tix-app-1")
    ["2026-02-01T00:00:00Z/2026-01-01T00:00:00Z", "2026/2027", "severity >= error", "(("].each do |with|
      assert_equal [400, "with"], ask("/api/patterns", with: with).values_at("status", "parameter"), with
    end
  end

  def send_json(method, path, object)
    public_send(method, path, JSON.generate(object), HOST.merge("CONTENT_TYPE" => "application/json"))
    checked(path, method.to_s)
  end

  def test_a_question_is_saved_overwritten_deleted_and_had_back
    saved = send_json(:post, "/api/searches", name: "Night", folder: "gates", tags: %w[stall], query: "find=gate*")
    assert_equal [201, "find=gate*", ["stall"]], [last_response.status, saved["query"], saved["tags"]]
    assert_equal 409, send_json(:post, "/api/searches", name: "Night", folder: "gates", query: "find=x")["status"]
    assert_equal saved["id"],
                 send_json(:post, "/api/searches", name: "Night", folder: "gates", query: "find=x", overwrite: true)[
                   "id"
                 ]
    delete("/api/searches/#{saved['id']}", {}, HOST)
    assert checked("/api/searches/#{saved['id']}", "delete")["deleted"]
    assert_empty ask("/api/searches")["searches"]
    send_json(:post, "/api/searches/#{saved['id']}/restored", {})
    assert_equal(["find=x"], ask("/api/searches")["searches"].map { |search| search["query"] })
    assert_equal "name", send_json(:post, "/api/searches", query: "x")["parameter"]
    post("/api/searches", "[1", HOST)
    assert_equal "body", checked("/api/searches", "post")["parameter"]
  end

  def test_an_export_is_asked_for_fetched_and_cancelled
    post("/api/exports?form=csv&columns=request.id&find=has+host.name", "", HOST)
    export = checked("/api/exports", "post")
    assert_equal ["waiting", ask("/api/histogram", find: "has host.name")["total"]], export.values_at("state", "lines")
    get("/api/exports/#{export['id']}/file", {}, HOST)
    assert_equal export["lines"] + 1, CSV.parse(last_response.body.dup.force_encoding(Encoding::UTF_8)).size
    assert_match(/attachment; filename="northdrift-\d+-\d+\.csv"/, last_response.headers["content-disposition"])
    assert_equal ["done", export["lines"]], ask("/api/exports/#{export['id']}").values_at("state", "written")
    post("/api/exports?form=xlsx", "", HOST)
    delete("/api/exports/#{export['id'] + 1}", {}, HOST)
    assert_equal "cancelled", checked("/api/exports/2", "delete")["state"]
    get("/api/exports/#{export['id'] + 1}/file", {}, HOST)
    assert_equal 409, last_response.status
    post("/api/exports?form=paper", "", HOST)
    assert_equal "form", checked("/api/exports", "post")["parameter"]
  end

  def test_a_scope_stays_on
    scope = send_json(:put, "/api/scopes", name: "gates", find: "host.name = gate*")
    assert_equal ask("/api/histogram", find: "host.name = gate*")["total"],
                 ask("/api/histogram", scope: "gates")["total"]
    assert_operator survey("/api/fields", scope: "gates")["total"], :<, survey("/api/fields")["total"]
    assert_equal 422, send_json(:put, "/api/scopes", name: "bad", find: "hst.name = x")["status"]
    delete("/api/scopes/#{scope['id']}", {}, HOST)
    assert_equal "scope", ask("/api/histogram", scope: "gates")["parameter"]
  end

  def test_searches_to_start_with
    starters = ask("/api/starters")["starters"]
    assert(starters.find { |starter| starter["name"] == "What is written most" }["any"])
    refute(starters.find { |starter| starter["name"] == "Neighbours were lost" }["any"])
    known = -> { Store::Kinds.current.field_names + %w[event.id duration_ms http.response.status_code user.name] }
    starters.each { |starter| Find::Parser.parse(starter["find"].gsub(/\{\w+\}/, "ida"), known: known) }
    assert_equal %w[machine], starters.find { |starter| starter["name"].include?("{machine}") }["blanks"]
    assert_empty(ask("/api/starters", to: 1)["starters"].select { |starter| starter["any"] })
  end

  def test_the_thread_of_a_line
    line = ask("/api/lines", find: "BK-1")["lines"][0]
    seen = ask("/api/lines/#{line['id']}/seen-before", utc_offset: 3600)
    assert_equal [1, 1, line["time_us"] / 1_000_000], [seen["total"], seen["hours"].sum, seen["first_us"] / 1_000_000]
    detail = ask("/api/lines/#{line['id']}")
    place = ask("/api/sources/#{detail['source_id']}", line: detail["line_number"], before: 2, after: 2)
    assert_includes place["records"].map { |record| [record["id"], record["raw"]] }, [line["id"], detail["raw"]]
    assert_equal([*-2..2], place["records"].map { |record| record["line_number"] - detail["line_number"] })
    assert_equal "line", ask("/api/sources/#{detail['source_id']}", line: 10_000)["parameter"]
    get("/api/sources/#{detail['source_id']}/text", {}, HOST)
    assert_equal "#{Examples::ALL.keys.reject { |known| known == 'Use the BFG!' }.join("\n")}\n".b, last_response.body.b
    assert_empty survey("/api/clocks")["clocks"]
  end

  def test_mistakes_are_problems_with_a_place
    mistake = ask("/api/lines", find: "usr.name = ida")
    assert_equal [422, 1, 8, "user.name"], mistake.values_at("status", "column", "length", "suggestion")
    assert_equal "limit", ask("/api/lines", limit: "many")["parameter"]
    assert_equal "by", ask("/api/histogram", by: "colour")["parameter"]
    assert_includes ask("/api/windows", words: "when pigs fly")["detail"], "not understood"
    assert_includes ask("/api/lines", find: "\xFF")["detail"], "UTF-8"
    assert_includes ask("/api/lines", hide: "loud")["detail"], "loud"
  end

  def test_completions_windows_and_silences
    assert_includes ask("/api/completions", prefix: "gate")["completions"].map { |one| one["text"] }, "gate-brn-1"
    assert_includes ask("/api/completions", prefix: "", field: "user.name")["completions"].map { |one| one["text"] },
                    "ida"
    assert_equal(
      3_600_000_000,
      ask("/api/windows", words: "last hour", zone: "Europe/Oslo").then { |window| window["to_us"] - window["from_us"] }
    )
    assert_equal micros(Time.utc(2026, 11, 22, 5, 12)),
                 ask("/api/windows/moment", words: "22 Nov 2026 06:12", zone: "Europe/Oslo")["at_us"]
    assert_includes ask("/api/windows/moment", words: "when pigs fly")["detail"], "not understood"
  end

  # A line every minute for two hours, then nothing until the last of them all.
  def test_who_fell_silent
    lines = Array.new(120) { |minute| "<13>1 #{(NOW + (minute * 60)).iso8601} buoy-1 app 7 - - blinks #{minute}\n" }
    import_text("#{lines.join}<13>1 #{(NOW + 36_000).iso8601} pier-1 app 7 - - locked\n", name: "buoy.log")
    silences = ask("/api/silences", find: "blinks or locked")["silences"]
    assert_equal(["buoy-1"], silences.map { |silence| silence["machine"] }.uniq)
    assert_equal micros(NOW + (119 * 60)), silences.first["from_us"]
    assert_empty ask("/api/silences", find: "host.name = pier-1")["silences"]
  end

  def test_an_upload_from_its_bytes_to_its_result
    post(
      "/api/imports?name=night%2Fa.log", "2026-11-22 06:12:08 uploaded line\n",
      HOST.merge("CONTENT_TYPE" => "application/x-www-form-urlencoded")
    )
    import = checked("/api/imports", "post")
    assert_equal ["waiting", 34], import.values_at("state", "bytes")
    Intake::Jobs.new(@data).work(Store::Import.find(import["id"]))
    assert_equal "done", ask("/api/imports/#{import['id']}")["state"]
    assert_equal 1, ask("/api/histogram", find: "uploaded")["total"]
    post("/api/imports?name=a&zone=Mars/Olympus", "x", HOST)
    assert_equal "zone", checked("/api/imports", "post")["parameter"]
    post("/api/imports?name=b.log", "x\n", HOST)
    delete("/api/imports/#{checked('/api/imports', 'post')['id']}", {}, HOST)
    assert_equal "cancelled", checked("/api/imports/1", "delete")["state"]
  end

  def test_strangers_are_refused
    get("/api/status", {}, "HTTP_HOST" => "evil.example")
    assert_equal 421, last_response.status
    post("/api/imports?name=a", "x", HOST.merge("HTTP_ORIGIN" => "http://evil.example"))
    assert_equal 403, last_response.status
    assert_equal 0, Store::Import.count
  end

  def test_security_headers
    get("/", {}, HOST)
    policy = last_response.headers["content-security-policy"]
    assert_includes policy, "default-src 'none'"
    assert_includes policy, "script-src 'self';"
    refute_includes policy, "unsafe"
    assert_includes last_response.body, policy[/nonce-([^']+)/, 1]
    refute_equal policy, get("/", {}, HOST).headers["content-security-policy"]
  end

  def test_files_outside_stay_outside
    get("/../../Gemfile", {}, HOST)
    refute_includes last_response.body, "activerecord"
    get("/%2e%2e/%2e%2e/Gemfile", {}, HOST)
    refute_includes last_response.body, "activerecord"
  end
end
