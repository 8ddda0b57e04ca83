# frozen_string_literal: true

require_relative "../test_helper"
require "json_schemer"
require "minitest/mock"
require "rack/test"

# Sources, parsers and noise rules by HTTP; every answer is held against docs/openapi.json.
class IntakeApiTest < Northdrift::StoreTest
  include Northdrift
  include Rack::Test::Methods

  OPENAPI = JSON.parse(File.read(File.join(ROOT, "docs/openapi.json")))
  DOCUMENT = JSONSchemer.openapi(OPENAPI)
  HOST = { "HTTP_HOST" => "127.0.0.1:4280", "CONTENT_TYPE" => "application/json" }.freeze

  def app = @app ||= Server::App.build(@data)

  # @return [Hash] the answer, after its schema was checked
  def ask(method, path, object = nil)
    public_send(method, path, object && JSON.generate(object), HOST)
    # A path that is written out stands before one with a blank.
    template =
      OPENAPI["paths"]
        .keys
        .sort_by { |known| known.count("{") }
        .find { |known| path.match?(/\A#{known.gsub(/\{\w+\}/, '[^/]+')}\z/) }
    responses = OPENAPI.dig("paths", template, method.to_s, "responses")
    response = responses[last_response.status.to_s] || responses["default"]
    name = response.dig("content", last_response.content_type.split(";").first, "schema", "$ref").split("/").last
    JSON
      .parse(last_response.body)
      .tap do |body|
        assert_empty DOCUMENT.schema(name).validate(body).map { |error| error["error"] }, "#{path} against #{name}"
      end
  end

  def test_a_feed_is_added_changed_removed_and_had_back
    feed = ask(:post, "/api/feeds", { name: "desk", kind: "http", settings: { port: 4444 } })
    assert_equal [201, 40, 4444], [last_response.status, feed["token"].size, feed["settings"]["port"]]
    assert_equal Intake::Live::Inlets::Http.digest(feed["token"]), Store::Feed.sole.given["token"]
    refute ask(:get, "/api/feeds")["feeds"][0].key?("token")
    changed = ask(:patch, "/api/feeds/#{feed['id']}", { paused: true, settings: { port: 5555, machine: "alder" } })
    assert_equal [true, 5555, "alder"], [changed["paused"], *changed["settings"].values_at("port", "machine")]
    assert_equal Intake::Live::Inlets::Http.digest(feed["token"]), Store::Feed.sole.given["token"]
    ask(:delete, "/api/feeds/#{feed['id']}")
    assert_empty ask(:get, "/api/feeds")["feeds"]
    ask(:post, "/api/feeds/#{feed['id']}/restored", {})
    assert_equal 1, ask(:get, "/api/feeds")["feeds"].size
  end

  {
    "port" => { kind: "tcp", settings: { port: "x" } }, "address" => { kind: "tcp", settings: { address: "nowhere" } },
    "zone" => { kind: "udp", settings: { zone: "Mars" } },
    "paths" => { kind: "follow", settings: { paths: "here.log" } },
    "colour" => { kind: "udp", settings: { colour: "red" } }, "kind" => { kind: "pigeon" }
  }.each do |part, wanted|
    define_method("test_an_unfit_#{part}_is_told") do
      answer = ask(:post, "/api/feeds", { name: "x", **wanted })
      assert_equal [422, part], [last_response.status, answer["parameter"]]
      assert_empty Store::Feed.all
    end
  end

  # @param keys [Hash{String=>Array<String>}] of the settings file
  def with_settings(keys)
    path = File.join(@data, Store::MachineSettings::FILE)
    kept = %w[NORTHDRIFT_FOLLOW NORTHDRIFT_FORWARD].to_h { |name| [name, ENV.delete(name)] }
    File.write(path, YAML.dump(keys))
    yield
  ensure
    ENV.update(kept)
    FileUtils.rm_f(path)
  end

  def test_only_files_of_folders_that_are_allowed_are_followed_from_the_pages
    with_settings("follow" => ["/var/log", "/srv/logs/"]) do
      %w[/var/log/*.log /srv/logs/a/b.log].each do |path|
        answer = ask(:post, "/api/feeds", { name: "x", kind: "follow", settings: { paths: path } })
        assert_equal [201, path], [last_response.status, answer["settings"]["paths"]]
        refute answer["settings"].key?("within")
      end
      [
        "/etc/shadow", "/var/log/../../etc/shadow", "/var/log", "/var/logs/x", "/*", "/var/log/a\n/etc/shadow",
        "/var/log/./../../etc/shadow"
      ].each do |path|
        answer = ask(:post, "/api/feeds", { name: "x", kind: "follow", settings: { paths: path } })
        assert_equal [422, "paths"], [last_response.status, answer["parameter"]], path
      end
      path = "/api/feeds/#{Store::Feed.first.id}"
      assert_equal 422, ask(:patch, path, { settings: { paths: "/etc/shadow" } })["status"]
      assert_equal 200, ask(:patch, path, { settings: { paths: "/var/log/other.log" } }) && last_response.status
    end
  end

  def test_settings_that_cannot_be_understood_are_told
    { { "folow" => [] } => "there is no setting “folow”", { "follow" => "/var/log" } => "follow is a list",
      ["x"] => "keys with values" }.each do |keys, reason|
      with_settings(keys) do
        assert_includes assert_raises(Error) { Store::MachineSettings.current }.message, reason
      end
    end
    assert_equal ["/var/log"], with_settings({}) { Store::MachineSettings.current.follow }
    assert_equal [Dir.tmpdir], Store::MachineSettings.current.follow, "the environment comes first"
  end

  # Loopback, link-local and private addresses (RFC 1122, 3927, 1918, 4193, 4291), in every spelling that the resolver
  # takes, and where machines of a cloud ask for their secrets.
  INSIDE = %w[
    127.0.0.1 127.0.0.2 localhost 169.254.169.254 10.0.0.1 172.16.5.5 192.168.1.1 100.64.0.1 0.0.0.0 [::1]
    [::ffff:10.0.0.1] [fd00:ec2::254] [fe80::1] 2130706433 0x7f000001 127.1 [64:ff9b::a00:1]
  ].freeze

  def test_lines_are_sent_on_to_nothing_inside_that_is_not_listed
    with_settings({}) do
      INSIDE.each do |host|
        answer = ask(:post, "/api/relays", { name: "x", kind: "http", settings: { url: "http://#{host}:9/v1/logs" } })
        assert_equal [422, "url"], [answer["status"], answer["parameter"]], host
      end
      assert_equal 422, ask(:post, "/api/relays", { name: "x", kind: "tcp", settings: { host: "10.1.2.3" } })["status"]
      assert_empty Store::Relay.all
      ask(:post, "/api/relays", { name: "x", kind: "http", settings: { url: "http://192.0.2.1/v1/logs" } })
      assert_equal 201, last_response.status
    end
    with_settings("forward" => ["10.1.0.0/16", "localhost"]) do
      %w[10.1.2.3 localhost].each do |host|
        ask(:post, "/api/relays", { name: "x", kind: "tcp", settings: { host: host } })
        assert_equal 201, last_response.status, host
      end
    end
  end

  # A name may lead elsewhere by then.
  def test_addresses_are_looked_at_once_more_when_they_are_connected_to
    given = { "url" => "http://logs.example:4318/v1/logs" }
    inside = [Addrinfo.tcp("10.0.0.1", 4318)]
    Addrinfo.stub(:getaddrinfo, inside) do
      [Server::Relay::Outlets::Http.new(given),
       Server::Relay::Outlets::Syslog.new({ "host" => "logs.example", "port" => 514 }, tls: false)].each do |outlet|
        import_text("Nov 22 06:00:00 alder app: one\n")
        error = assert_raises(Error) { outlet.deliver(question.page.events) }
        assert_includes error.message, "10.0.0.1"
      end
    end
  end

  def test_a_token_stands_nowhere_in_clear
    settings = { url: "http://192.0.2.1/", token: "very-secret-9" }
    ask(:post, "/api/relays", { name: "x", kind: "http", settings: settings })
    relay = Store::Relay.sole
    assert_equal "very-secret-9", relay.given["token"]
    files = Dir.glob(File.join(@data, "**/*")).select { |path| File.file?(path) }
    assert_empty(files.select { |path| File.binread(path).include?("very-secret-9") })
    assert_equal 0o600, File.stat(File.join(@data, Store::Secret::FILE)).mode & 0o777
    # As an earlier version kept it.
    relay.update!(settings: Oj.dump({ "url" => "http://192.0.2.1/", "token" => "older-secret" }, mode: :strict))
    Store::Relay.seal_all
    assert_equal [false, "older-secret"],
                 [relay.reload.settings.include?("older-secret"), relay.given["token"]]
    File.binwrite(File.join(@data, Store::Secret::FILE), "k" * 32)
    assert_equal "", relay.given["token"], "another key reads nothing"
  end

  def test_lines_are_deleted_for_good_when_it_was_said_twice
    assert_equal 409, ask(:put, "/api/keeping", { days: 1, archive: false })["status"]
    assert_nil Store::Keeping.current.days
    ask(:put, "/api/keeping", { days: 1, archive: false, confirmed: true })
    assert_equal [200, 1], [last_response.status, Store::Keeping.current.days]
  end

  # Whoever reaches the page must not be able to run a program here.
  def test_a_command_cannot_be_added_from_the_web
    ask(:post, "/api/feeds", { name: "x", kind: "command", settings: { command: "id" } })
    assert_equal 422, last_response.status
    feed = Store::Feed.create!(name: "x", kind: "command", given: { "command" => "true" }, created_us: 1)
    ask(:patch, "/api/feeds/#{feed.id}", { settings: { command: "id" } })
    assert_equal [422, "true"], [last_response.status, Store::Feed.sole.given["command"]]
    ask(:delete, "/api/feeds/#{feed.id}")
    ask(:post, "/api/feeds/#{feed.id}/restored", {})
    assert_equal [422, 0], [last_response.status, Store::Feed.present.count], "nor had back"
    with_settings("commands" => ["true"]) { ask(:post, "/api/feeds/#{feed.id}/restored", {}) }
    assert_equal [200, 1], [last_response.status, Store::Feed.present.count]
  end

  def lines(count)
    import_text(
      Array
        .new(count) do |index|
          "Nov 23 10:00:#{format('%02d', index % 60)} quay craned: crane #{index % 3} lifted #{index} kg\n"
        end
        .join
    )
  end

  def test_a_parser_is_tried_and_kept
    lines(30)
    draft = {
      name: "cranes", pattern: 'lifted (?P<load>\d+) kg', samples: ["crane 9 lifted 12 kg", "no crane"],
      find: "service.name = craned"
    }
    trial = ask(:post, "/api/parsers/trial", draft)
    assert_equal [30, 30, { "load" => "whole" }, [{ "load" => "12" }, nil]],
                 [
                   trial["looked_at"], trial["matched"], trial["proposed"],
                   trial["samples"].map { |line| line["values"] }
                 ]
    parser = ask(:post, "/api/parsers", draft.merge(types: { load: "whole" }))
    assert_equal [1, "whole"], [parser["version"], parser["types"]["load"]]
    import_text("Nov 23 11:00:00 quay craned: crane 1 lifted 4711 kg\n", name: "later.log")
    assert_equal 1, question("load > 4000").total
    assert_equal [2, false],
                 ask(:patch, "/api/parsers/#{parser['id']}", { enabled: false }).values_at("version", "enabled")
    assert_equal [422, "pattern"],
                 [ask(:post, "/api/parsers/trial", { pattern: "(?P<a>", samples: [] })["parameter"]].unshift(
                   last_response.status
                 )
  end

  def test_a_parser_is_drafted_from_parts
    draft = ask(:post, "/api/parsers/draft", { samples: ["lifted 12 kg"], parts: [{ at: 7, size: 2, name: "load" }] })
    assert_equal ["^lifted\\s+(?P<load>[-+]?\\d+)\\s+kg", { "load" => "whole" }, 3],
                 [draft["pattern"], draft["types"], draft["pieces"].size]
    assert_equal "parts", ask(:post, "/api/parsers/draft", { samples: ["a"], parts: [{ at: 7, size: 2 }] })["parameter"]
    assert_equal 400, ask(:post, "/api/parsers/draft", { samples: ["a"], parts: [{ at: nil, size: 2 }] })["status"]
  end

  def test_a_parser_is_applied_to_what_is_stored_and_taken_back
    lines(30)
    parser =
      ask(:post, "/api/parsers", { name: "cranes", pattern: 'lifted (?P<load>\d+) kg', types: { load: "whole" } })
    assert_equal "waiting", ask(:post, "/api/parsers/#{parser['id']}/reread", {})["reread"]["state"]
    upkeep = Intake::Upkeep.new
    assert upkeep.step
    assert_equal [["done", 30, 30], 10],
                 [
                   ask(:get, "/api/parsers")["parsers"][0]["reread"].values_at("state", "looked_at", "altered"),
                   question("load >= 20").total
                 ]
    assert_equal "undoing", ask(:delete, "/api/parsers/#{parser['id']}/reread")["reread"]["state"]
    assert upkeep.step
    assert_equal ["undone", 0], [ask(:get, "/api/parsers")["parsers"][0]["reread"]["state"], question("has load").total]
  end

  def test_parsers_are_exchanged_and_put_in_order
    given =
      %w[one two three].map { |name| { name: name, pattern: "(?P<#{name}>x)", types: {}, find: "", samples: ["x"] } }
    wrong = ask(:post, "/api/parsers/exchanged", { parsers: [*given, { name: "four", pattern: "((" }] })
    assert_equal [422, true, 0],
                 [last_response.status, wrong["detail"].start_with?("parser 4:"), Store::ParserRule.count]
    ask(:post, "/api/parsers/exchanged", { parsers: given })
    ask(:patch, "/api/parsers/#{Store::ParserRule.find_by(name: 'three').id}", { position: 0 })
    listed = ask(:get, "/api/parsers")["parsers"]
    assert_equal(%w[three one two], listed.map { |parser| parser["name"] })
    Store::ParserRule.delete_all
    assert_equal 3, ask(:post, "/api/parsers/exchanged", { parsers: listed })["parsers"].size
    assert_equal 400, ask(:post, "/api/parsers/exchanged", { parsers: [] })["status"]
  end

  def test_how_much_may_be_given_at_once
    assert_equal({ "megabytes" => 20_000, "unpacked_megabytes" => 200_000 }, ask(:get, "/api/keeping")["uploads"])
    ask(:put, "/api/keeping/uploads", { megabytes: 5 })
    assert_equal([5_000_000, 200_000_000_000],
                 Store::UploadLimits.current.then { |limits| [limits.bytes, limits.unpacked_bytes] })
    assert_equal 400, ask(:put, "/api/keeping/uploads", { megabytes: 0 })["status"]
  end

  def test_old_lines_are_put_away_brought_back_and_deleted
    import_text(
      Array
        .new(40) do |index|
          "#{(Store::Clock.now - (index * 86_400)).strftime('%Y-%m-%dT%H:%M:%SZ')} quay t: work #{index}\n"
        end
        .join
    )
    assert_equal 400, ask(:put, "/api/keeping", { days: 0 })["status"]
    assert_equal [10, 0], ask(:post, "/api/keeping/trial", { days: 30, megabytes: nil }).values_at("overdue", "surplus")
    upkeep = Intake::Upkeep.new
    assert upkeep.step
    ask(:put, "/api/keeping", { days: 30 })
    assert upkeep.step
    state = ask(:get, "/api/keeping")
    assert_equal [30, 10, 10],
                 [state["lines"], state["archives"].size, state["archives"].sum { |archive| archive["lines"] }]
    path = "/api/keeping/archives/#{state['archives'][0]['id']}"
    ask(:post, "#{path}/back")
    assert_equal 422, ask(:delete, path)["status"]
    assert upkeep.step
    assert_equal(["back", 31], ask(:get, "/api/keeping").then { |now| [now["archives"][0]["state"], now["lines"]] })
    ask(:delete, "#{path}/back")
    assert upkeep.step
    assert_equal([30, 9], ask(:delete, path).then { |now| [now["lines"], now["archives"].size] })
    # It looks who fell silent, and what was usual in each of the hours, and then rests.
    assert upkeep.step
    assert(25.times.any? { !upkeep.step })
  end

  # On a full disk nothing can be noticed; old lines have to go all the same.
  def test_old_lines_are_forgotten_though_nothing_can_be_noticed
    lines(3)
    import_text("2020-01-01T00:00:00Z quay t: long ago\n")
    ask(:put, "/api/keeping", { days: 30 })
    Store::Noticing.stub(:new, ->(*) { raise Errno::ENOSPC }) { assert Intake::Upkeep.new.step }
    assert_equal 3, ask(:get, "/api/keeping")["lines"]
  end

  # Whichever step of the upkeep fails, those behind it are taken, the fault is told, and it is tried again.
  def test_an_upkeep_step_that_fails_is_told_and_does_not_keep_the_others_from_their_work
    lines(3)
    now = Store::Clock.now_us
    upkeep = Intake::Upkeep.new(clock: -> { now })
    Store::Keeping.stub(:current, -> { raise IOError, "no such keeping" }) do
      capture_io { assert upkeep.step }
      assert_equal "Forgetting old lines failed: no such keeping", Store::Setting.get(Intake::Upkeep::PROBLEM)
    end
    assert_equal "Forgetting old lines failed: no such keeping", ask(:get, "/api/keeping")["problem"]
    refute_nil Store::Setting.get(Store::Noticing::DONE)
    refute upkeep.step # left out for a while
    now += (Intake::Upkeep::AGAIN_SECONDS * 1_000_000)
    assert upkeep.step
    assert_empty ask(:get, "/api/keeping")["problem"]
  end

  def test_a_source_that_falls_silent_or_shouts_is_told
    minute = Store::Clock.now.to_i / 60
    feed = Store::Feed.create!(name: "x", kind: "tcp", given: {}, created_us: 1)
    { "steady" => 10, "silent" => 0, "loud" => 500 }.each do |name, now|
      source = Store::Source.create!(name: name, feed_id: feed.id, reference_us: 1, created_us: 1)
      (1..120).each do |ago|
        Store::Arrivals.add(
          source.id, (minute - ago) * 60_000_000,
          lines: ago <= 5 ? now : 10 + (ago % 3), bytes: 1, unread: 0, timed: 0, lag_us: 0
        )
      end
    end
    told =
      ask(:get, "/api/feeds")["feeds"][0]["sources"].to_h do |source|
        [source["name"], source["volume"]["usual"]&.values_at("level", "direction")]
      end
    assert_equal({ "steady" => nil, "silent" => %w[alarm less], "loud" => %w[alarm more] }, told)
  end

  def test_a_relay_is_added_changed_removed_and_had_back
    wrong = ask(:post, "/api/relays", { name: "x", kind: "tcp", settings: { host: "a b" } })
    assert_equal [422, "host"], [last_response.status, wrong["parameter"]]
    assert_equal 422,
                 ask(:post, "/api/relays", { name: "x", kind: "tcp", settings: { host: "logs" }, find: "((" })["status"]
    relay =
      ask(
        :post, "/api/relays",
        {
          name: "onward", kind: "http", settings: { url: "http://logs.example/v1/logs", token: "secret" },
          find: "severity >= error"
        }
      )
    refute relay["settings"].key?("token")
    path = "/api/relays/#{relay['id']}"
    changed = ask(:patch, path, { paused: true, settings: { url: "http://other.example/v1/logs", token: "" } })
    assert_equal [true, "http://other.example/v1/logs", ""],
                 [changed["paused"], changed["settings"]["url"], Store::Relay.sole.given["token"].to_s],
                 "a token is its address's"
    ask(:delete, path)
    assert_empty ask(:get, "/api/relays")["relays"]
    ask(:post, "#{path}/restored", {})
    assert_equal 1, ask(:get, "/api/relays")["relays"].size
  end

  def test_a_source_may_keep_its_lines_for_another_time
    feed = ask(:post, "/api/feeds", { name: "x", kind: "tcp", settings: { port: 4444 } })
    assert_equal 7, ask(:patch, "/api/feeds/#{feed['id']}", { keep_days: 7 })["keep_days"]
    assert_equal 400, ask(:patch, "/api/feeds/#{feed['id']}", { keep_days: "x" })["status"]
    assert_nil ask(:patch, "/api/feeds/#{feed['id']}", { keep_days: nil })["keep_days"]
  end

  # The figures of the trial against a count of the same lines.
  def test_a_noise_rule_is_tried_on_the_past
    now = Store::Clock.now
    import_text(
      Array
        .new(50) do |index|
          "#{(now - index).strftime('%Y-%m-%dT%H:%M:%SZ')} quay t: #{index.even? ? 'heartbeat' : 'work'}\n"
        end
        .join
    )
    trial = ask(:post, "/api/noise-rules/trial", { find: "heartbeat", action: "drop" })
    assert_equal [25, 25, 50], trial.values_at("matched", "lines", "all_lines")
    assert_equal 20, ask(:post, "/api/noise-rules/trial", { find: "heartbeat", action: "thin", keep: 5 })["lines"]
    assert_equal 422, ask(:post, "/api/noise-rules/trial", { find: "((", action: "drop" })["status"]
    hide = ask(:post, "/api/noise-rules", { find: "heartbeat", action: "hide" })
    get("/api/lines", {}, HOST)
    assert_equal 25, JSON.parse(last_response.body)["lines"].size
    get("/api/lines?noise=shown", {}, HOST)
    assert_equal 50, JSON.parse(last_response.body)["lines"].size
    ask(:delete, "/api/noise-rules/#{hide['id']}")
    get("/api/lines", {}, HOST)
    assert_equal 50, JSON.parse(last_response.body)["lines"].size
  end

  # What stands behind the limit is not passed over, and not blamed for its syntax.
  def test_a_request_that_carries_too_much
    [["/api/noise-rules", "{\"find\":\"#{'x' * 100_000}\"}"], ["/api/fleet/table", "machine\n#{"alder\n" * 700_000}"]]
      .each do |path, body|
        post path, body, "HTTP_HOST" => "127.0.0.1", "CONTENT_TYPE" => "application/json"
        assert_equal 413, last_response.status, path
        assert_match(/the request may carry \d+ bytes; it has more/, last_response.body)
      end
  end

  def upload(name, bytes)
    post "/api/imports?name=#{name}", bytes, "HTTP_HOST" => "127.0.0.1", "CONTENT_TYPE" => "text/plain"
  end

  def test_an_upload_beyond_the_limits
    Store::UploadLimits.new(megabytes: 1, unpacked_megabytes: 3).save
    upload "big.log", "x" * 1_000_001
    assert_equal 413, last_response.status
    assert_includes last_response.body, "an upload may have 1 MB here"
    Store::Disk.stub(:of, Store::Disk.new(70 << 20, 1 << 30)) do
      upload "big.log", "x" * 999_999
      assert_equal 202, last_response.status
      Store::UploadLimits.new(megabytes: 100, unpacked_megabytes: 3).save
      upload "big.log", "x" * (7 << 20)
    end
    assert_equal 507, last_response.status
    assert_includes last_response.body, "the upload has 7 MB, and 73 MB are free"
  end

  def test_what_unpacks_to_more_than_the_limit
    Store::UploadLimits.new(megabytes: 100, unpacked_megabytes: 2).save
    lines = Array.new(60_000) { |n| "2026-11-23T10:00:00Z alder app: entry #{n} of many\n" }.join
    upload "swells.log.gz", Zlib.gzip(lines)
    Intake::Jobs.new(@data).work(Store::Import.last)
    results = JSON.parse(Store::Import.last.results)
    assert_includes results.first["problem"], "it unpacks to more than 2 MB, the limit set here"
    kept = question("entry").total
    assert_includes 20_000..59_000, kept
    # The last line is cut off.
    numbers = found("entry").first(kept - 1).map { |line| line[/entry (\d+)/, 1].to_i }
    assert_equal [0, kept - 2, kept - 1], [numbers.first, numbers.last, numbers.uniq.size]
  end
end
