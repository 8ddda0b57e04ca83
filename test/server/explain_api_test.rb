# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"
require "csv"
require "digest"

# The fleet, causes, the logbook's rules and cases by HTTP.
class ExplainApiTest < Northdrift::AskingTest
  include Northdrift

  LINES = <<~LOG
    Nov 21 06:09:41 switch sudo: olav : TTY=pts/0 ; PWD=/root ; USER=root ; COMMAND=/usr/sbin/ip link set eth0 mtu 1500
    Nov 21 06:14:26 alder kernel: Out of memory: Killed process 2217 (bookingd) total-vm:5120312kB
    Nov 21 06:14:27 alder systemd[1]: bookingd.service: Failed with result 'oom-kill'.
    Nov 21 06:14:32 alder systemd[1]: Started bookingd.service - Ticket booking.
    Nov 21 06:20:00 alder gatectl: berth 3 was moved by olav
  LOG
  TABLE = "machine,site,role,tags,needs,runs_on\nalder,north,web,hot,switch,\nswitch,north,network,,,\n"

  def setup
    super
    import_text(LINES)
  end

  def line(words) = question(words).page.events.first

  def fleet(asked = "") = ask("/api/fleet#{asked}", "FleetPage")["rows"].map { |row| row["machine"] }

  # Under no site stand more machines than one answer tells of; the next goes on behind the last of it.
  def test_the_fleet_piece_by_piece
    names = (1..250).map { |number| format("m-%03d", number) }
    import_text(names.map { |name| "Nov 22 07:00:00 #{name} app: error: one of many\n" }.join, name: "many.log")
    ask("/api/fleet/table", method: :post, body: TABLE)
    told = []
    page = ask("/api/fleet", "FleetPage")
    assert_equal [252, true], page.values_at("machines", "more")
    loop do
      told += page["rows"]
      break unless page["more"]

      last = told.last
      after = { "after" => last["machine"]["machine"], "after_group" => last["group"] }.compact
      page = ask("/api/fleet?#{URI.encode_www_form(after)}", "FleetPage")
    end
    assert_equal([%w[north alder], %w[north switch], *names.map { |name| [nil, name] }],
                 told.map { |row| [row["group"], row["machine"]["machine"]] })
    assert_equal [2, 250], told.map { |row| row["group_machines"] }.minmax
    assert_equal(%w[m-031], fleet("?text=M-031").map { |one| one["machine"] })
    map = ask("/api/fleet/map", "FleetMap")
    assert_equal [252, 0, [%w[alder switch]]],
                 [map["machines"].size, map["others"], map["edges"].map { |edge| edge.values_at("machine", "on") }]
    by_machine = ask("/api/fleet/availability?by=machine", "Availability")
    assert_equal [200, 52], [by_machine["groups"].size, by_machine["others"]]
    lanes = ask("/api/histogram?by=machine", "Histogram")
    assert_equal [100, 152, lanes["total"]],
                 [lanes["series"].size, lanes["others"]["series"],
                  [*lanes["series"], lanes["others"]].sum { |one| one["counts"].sum { |_, *n| n.sum } }]
  end

  def test_the_fleet_is_told_and_changed
    assert_equal(%w[alder switch], fleet.map { |one| one["machine"] })
    assert_equal 2, ask("/api/fleet/table", method: :post, body: TABLE)["machines"]
    alder, = fleet
    assert_equal ["north", "web", %w[hot], %w[switch], 1], alder.values_at("site", "role", "tags", "needs", "tier")
    put_at("/api/fleet/machines/alder", { "role" => "db", "tags" => [], "needs" => "switch" }, "RosterEntry")
    assert_equal 0, ask("/api/lines?find=host.role+%3D+web")["lines"].to_a.size
    assert_equal 4, ask("/api/lines?find=host.role+%3D+db")["lines"].size
    get("/api/fleet/table.csv", {}, HOST)
    assert_equal(
      [%w[alder db], %w[switch network]],
      CSV.parse(last_response.body, headers: true).map { |row| row.values_at("machine", "role") }
    )
    post_to("/api/fleet/dependencies", { "machine" => "alder", "on" => "host-1", "kind" => "runs-on" })
    assert_equal "host-1", fleet.find { |one| one["machine"] == "alder" }["runs_on"]
    assert_equal [422, 400, 400],
                 [
                   ask("/api/fleet/table", method: :post, body: "x,y\n1,2\n")["status"],
                   post_to("/api/fleet/dependencies", { "machine" => "a", "on" => "a" })["status"],
                   ask("/api/fleet/availability?by=colour")["status"]
                 ]
    assert_equal [], ask("/api/fleet/proposals", "FleetProposals")["proposals"]
  end

  def test_a_machine_that_was_named_after_where_its_lines_came_from
    import_text("2026-11-20 06:00:00 one\n2026-11-20 06:00:01 two\n", name: "x.log", place: ->(_) { "case 17" })
    derived = ->(name) { fleet.find { |one| one["machine"] == name }&.fetch("derived") }
    assert_equal [true, false], [derived.call("case 17"), derived.call("alder")]
    line = ask("/api/lines?find=two")["lines"].first
    assert_includes ask("/api/lines/#{line['id']}", "LineDetail")["inferred"], "machine"
    assert_equal({ "machine" => "birch", "lines" => 2 },
                 patch_at("/api/fleet/machines/case%2017", { "name" => "birch" }, "Called"))
    assert_equal [nil, true], [derived.call("case 17"), derived.call("birch")]
    assert_equal 2, ask("/api/lines?find=host.name+%3D+birch")["lines"].size
    refused = [["alder", { "name" => "cedar" }], ["birch", { "name" => "two words" }], ["gone", { "name" => "cedar" }]]
    assert_equal([422, 422, 422], refused.map { |name, said| patch_at("/api/fleet/machines/#{name}", said)["status"] })
    assert_equal 400, patch_at("/api/fleet/machines/birch", {})["status"]
  end

  def test_availability_says_what_was_down
    import_text("Nov 21 07:00:00 alder kernel: Linux version 6.1.0-29 (build@x) booting\n", name: "later.log")
    ask("/api/fleet/table", method: :post, body: TABLE)
    found =
      ask(
        "/api/fleet/availability?from=#{micros(Time.utc(2026, 11, 21))}&to=#{micros(Time.utc(2026, 11, 22))}",
        "Availability"
      )
    north = found["groups"].first
    assert_equal ["north", %w[alder switch], 40 * 60_000_000],
                 [north["name"], north["machines"], north["days"].sum { |day| day["down_us"] }]
    assert_equal([%w[alder down]], north["stretches"].map { |one| one.values_at("machine", "state") })
  end

  def test_causes_of_a_line_a_pattern_and_a_moment
    ask("/api/fleet/table", method: :post, body: TABLE)
    kill = line("memory")
    [
      ask("/api/causes?line=#{kill.id}", "Causes"), ask("/api/causes?pattern=#{kill.pattern}", "Causes"),
      ask("/api/causes?machine=alder&at=#{kill.time_us}", "Causes")
    ].each do |found|
      first = found["candidates"].first
      assert_equal ["switch", "below", 1, "olav ordered: ip link set eth0 mtu 1500"],
                   [first["happening"]["machine"], first["where"], first["steps"], first["happening"]["says"]]
    end
    import_text("Nov 20 06:00:00 alder app: long before\n", name: "before.log")
    get("/api/causes/patterns?line=#{kill.id}", {}, HOST)
    assert_includes JSON.parse(last_response.body.lines.last)["answer"]["patterns"].map { |one| one["text"] }.join,
                    "Out of memory"
    assert_equal [404, 404, 400],
                 [
                   ask("/api/causes?line=5")["status"], ask("/api/causes?pattern=P99")["status"],
                   ask("/api/causes")["status"]
                 ]
  end

  RULE = {
    "name" => "berths", "kind" => "change", "find" => "berth moved",
    "take" => 'berth (?P<berth>\d+) was moved by (?P<who>\w+)', "says" => "{who} moved berth {berth}",
    "severity" => "notice"
  }.freeze

  def told = ask("/api/logbook", "LogbookPage")["happenings"].map { |one| one.values_at("says", "person") }

  def read_past = Store::Past.read(Store::LogbookSwitch.catalogue, Store::Clock.now_us)

  def test_a_rule_of_ones_own_is_tried_kept_read_with_and_taken_back
    trial = post_to("/api/logbook-rules/trial", RULE, "LogbookRuleTrial")
    assert_equal [1, 1, ["olav moved berth 3"]],
                 [trial["lines"], trial["read"], trial["samples"].map { |one| one["says"] }]
    id = post_to("/api/logbook-rules", RULE, "OwnLogbookRule")["id"]
    assert_in_delta(0.0, ask("/api/logbook", "LogbookPage")["reading"])
    upkeep = Intake::Upkeep.new
    assert_equal [true, true], [upkeep.step, upkeep.step]
    assert_includes told, ["olav moved berth 3", "olav"]
    assert_equal 1, ask("/api/logbook-rules", "LogbookRules")["own"].first["happenings"]
    import_text("Nov 21 08:00:00 alder gatectl: berth 4 was moved by ida\n", name: "more.log")
    assert_includes told, ["ida moved berth 4", "ida"]
    remove("/api/logbook-rules/#{id}", "OwnLogbookRule")
    read_past
    refute_includes told, ["olav moved berth 3", "olav"]
    post_to("/api/logbook-rules/#{id}/restored", {}, "OwnLogbookRule")
    patch_at("/api/logbook-rules/#{id}", { "enabled" => false }, "OwnLogbookRule")
    read_past
    refute_includes told, ["olav moved berth 3", "olav"]
  end

  def test_a_rule_that_ships_is_switched_off_and_on
    put_at("/api/logbook-rules/switches/kernel.memory-kill", { "enabled" => false }, "ShippedLogbookRule")
    read_past
    refute(told.any? { |says,| says.include?("want of memory") })
    put_at("/api/logbook-rules/switches/kernel.memory-kill", { "enabled" => true }, "ShippedLogbookRule")
    read_past
    assert(told.any? { |says,| says.include?("want of memory") })
    assert_equal 404, put_at("/api/logbook-rules/switches/nothing", { "enabled" => true })["status"]
  end

  def test_a_rule_that_will_not_do_is_told_where
    { "kind" => "weather", "take" => "(", "says" => "", "severity" => "awful" }.each do |part, value|
      answer = post_to("/api/logbook-rules/trial", RULE.merge(part => value))
      assert_equal [422, part], answer.values_at("status", "parameter")
    end
    assert_equal 422, post_to("/api/logbook-rules", RULE.merge("find" => "hots.name = x"))["status"]
  end

  def test_persons_and_operations_in_the_logbook
    assert_equal(
      [%w[olav 1]], ask("/api/logbook?person=olav", "LogbookPage")["persons"].map { |one| one.values.map(&:to_s) }
    )
    line = lambda do |time, more|
      "{\"time\":\"2026-11-21T#{time}Z\",\"service\":\"platform\",\"msg\":\"snapshot\",\"host\":\"hv-2\"," \
        '"method":"snapshot.create","actor":"backup","target":"mail-1",' \
        "\"operation\":{\"id\":\"op-412\",#{more}}}"
    end
    import_text(
      "#{line.call('02:03:41', '"last":true')}\n#{line.call('02:00:01', '"first":true')}\n", name: "audit.json"
    )
    one = ask("/api/logbook?text=snapshot", "LogbookPage")
    assert_equal [1, 220_000_000], [one["total"], one["happenings"].first["outcome"]["took_us"]]
  end

  def test_a_case_from_start_to_report
    id = post_to("/api/cases", { "title" => "Hall stall" }, "Case")["id"]
    kill = line("memory")
    pin = post_to("/api/cases/#{id}/pins", { "kind" => "line", "id" => kill.id.to_s, "note" => "the end" }, "Pin")
    assert_equal [kill.raw, Digest::SHA256.hexdigest(kill.raw)], pin.values_at("raw", "sha256")
    change = ask("/api/logbook?kind=change")["happenings"].find { |one| one["says"].include?("mtu") }
    post_to("/api/cases/#{id}/pins", { "kind" => "happening", "id" => change["id"] }, "Pin")
    post_to("/api/cases/#{id}/pins", { "kind" => "pattern", "pattern" => kill.pattern }, "Pin")
    post_to(
      "/api/cases/#{id}/pins?find=alder", { "kind" => "chart", "text" => "alder", "query" => "find=alder" }, "Pin"
    )
    note = { "kind" => "note", "text" => "called olav", "at_us" => kill.time_us + 1 }
    gone = post_to("/api/cases/#{id}/pins", note, "Pin")["id"]
    remove("/api/cases/#{id}/pins/#{gone}", "Pin")
    whole = ask("/api/cases/#{id}", "WholeCase")
    assert_equal(%w[chart happening line pattern], whole["timeline"].map { |one| one["kind"] }.sort)
    assert_equal whole["timeline"].map { |one| one["at_us"] }, whole["timeline"].map { |one| one["at_us"] }.sort
    post_to("/api/cases/#{id}/pins/#{gone}/restored", {}, "Pin")
    patch_at(
      "/api/cases/#{id}", { "cause" => "MTU 1500", "remedy" => "put it back", "onset_us" => change["time_us"] }, "Case"
    )
    assert_empty ask("/api/lines/#{kill.id}", "LineDetail")["remedies"]
    patch_at("/api/cases/#{id}", { "status" => "closed" }, "Case")
    assert_equal(
      [["Hall stall", "put it back"]],
      ask("/api/lines/#{kill.id}", "LineDetail")["remedies"].map { |one| one.values_at("title", "remedy") }
    )
    assert_equal(1, ask("/api/cases?text=memory+hall", "Cases")["cases"].size)
    assert_empty ask("/api/cases?text=nothing", "Cases")["cases"]
  end

  def test_what_is_pinned_outlives_its_line
    id = post_to("/api/cases", { "title" => "Kept" }, "Case")["id"]
    kill = line("memory")
    post_to("/api/cases/#{id}/pins", { "kind" => "line", "id" => kill.id.to_s })
    Store::Forgetting.new(Store::Keeping.new(days: 0, archive: false)).run(Time.utc(2027).to_i * 1_000_000)
    assert_empty found
    pin = ask("/api/cases/#{id}", "WholeCase")["timeline"].first
    assert_equal [kill.raw, Digest::SHA256.hexdigest(kill.raw), kill.message], pin.values_at("raw", "sha256", "text")
    get("/api/cases/#{id}/report.md", {}, HOST)
    assert_includes last_response.body, kill.raw
  end

  # weather's clock was 250 s slow until its log says that it was set.
  def test_the_timeline_goes_by_true_time
    import_text(
      "Nov 21 06:12:00 weather windd: gust\nNov 21 06:30:00 weather chronyd[388]: System clock was stepped by " \
      "250.000312 seconds\n",
      name: "weather.log"
    )
    id = post_to("/api/cases", { "title" => "Clocks" }, "Case")["id"]
    [line("memory"), line("gust")].each do |event|
      post_to("/api/cases/#{id}/pins", { "kind" => "line", "id" => event.id.to_s })
    end
    memory, gust = ask("/api/cases/#{id}", "WholeCase")["timeline"]
    assert_equal ["alder", "weather", 250],
                 [memory["machine"], gust["machine"], ((gust["at_us"] - gust["told_us"]) / 1e6).round]
  end

  def test_bad_input_to_cases
    id = post_to("/api/cases", { "title" => "x" }, "Case")["id"]
    asked = [
      ["/api/cases", {}], ["/api/cases/#{id}/pins", { "kind" => "stone" }],
      ["/api/cases/#{id}/pins", { "kind" => "line", "id" => "7" }],
      ["/api/cases/#{id}/pins", { "kind" => "pattern", "pattern" => "P999" }],
      ["/api/cases/999/pins", { "kind" => "note", "text" => "x" }],
      ["/api/cases/#{id}/pins", { "kind" => "note", "text" => "x", "at_us" => "now" }]
    ]
    assert_equal([400, 400, 404, 404, 404, 400], asked.map { |path, object| post_to(path, object)["status"] })
    assert_equal 400, patch_at("/api/cases/#{id}", { "status" => "lost" })["status"]
    remove("/api/cases/#{id}", "Case")
    assert_equal 404, ask("/api/cases/#{id}")["status"]
  end
end
