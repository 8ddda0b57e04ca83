# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"

# Alert rules and alerts, by HTTP.
class AlertsTest < Northdrift::AskingTest
  include Northdrift

  COUNT = { "find" => "refused", "at_least" => 3, "within" => "60s", "by" => ["host.name"] }.freeze
  RULE = { "name" => "Many refused", "when" => { "count" => COUNT } }.freeze
  ALERT = { "raised_us" => 90_000_000, "last_us" => 95_000_000, "from_us" => 80_000_000 }.freeze

  def setup
    super
    lines = [0, 10, 20, 25, 4000, 4010, 9000, 9030, 9050].map do |second|
      time = Time.utc(2026, 11, 22, 6) + second
      "<11>1 #{time.strftime('%FT%TZ')} alder app 1 - - refused #{second}\n"
    end
    import_text(lines.join)
  end

  def made(definition = RULE, enabled: true)
    post_to("/api/alert-rules", { "definition" => definition, "enabled" => enabled }, "AlertRule")
  end

  def raised(key = "alder", **values)
    rule = Store::AlertRule.first || Store::AlertRule.find(made["id"])
    span = Watch::Span.new(*ALERT.merge(values.transform_keys(&:to_s)).values_at("from_us", "raised_us", "last_us"))
    Store::Alert.note(rule.rule, [key], [span], 100_000_000).first
  end

  def act(action, *alerts, text: "")
    post_to("/api/alerts/actions", { "action" => action, "ids" => alerts.map(&:id), "text" => text }, "AlertsChanged")
  end

  # Two steps of a minute: their greatest are 900 ms and 2.5 s.
  def test_a_measure_is_tried_at_the_levels_that_it_has_had
    took = { 0 => 900, 10 => 300, 60 => 2500, 70 => 100 }.map do |second, ms|
      "<14>1 #{(Time.utc(2026, 11, 22, 8) + second).strftime('%FT%TZ')} alder shop 1 - - took duration_ms=#{ms}\n"
    end
    import_text(took.join, name: "took.log")
    measure = { "find" => "took", "of" => "max(duration_ms)", "above" => "2s", "within" => "60s",
                "by" => ["host.name"] }
    told = post_to("/api/alert-rules/trial", { "definition" => RULE.merge("when" => { "measure" => measure }) },
                   "AlertTrial")
    assert_equal [4, 1, 2.0, "s"], told.values_at("lines", "alerts", "level", "unit")
    curve = told["curve"].to_h { |one| one.values_at("level", "alerts") }
    assert_equal [0.9, 2.5], curve.keys.minmax
    assert_equal [1, 1, 0], curve.values_at(0.9, 2.0, 2.5)
  end

  def test_a_rule_is_tried_on_the_past
    told = post_to("/api/alert-rules/trial", { "definition" => RULE }, "AlertTrial")
    assert_equal [9, 2, false], told.values_at("lines", "alerts", "cut")
    start = Time.utc(2026, 11, 22, 6).to_i * 1_000_000
    assert_equal [[["alder"], 0, 20, 25], [["alder"], 9000, 9050, 9050]],
                 (told["found"].map do |one|
                   [one["key"], *one.values_at("from_us", "raised_us", "last_us").map { |us| (us - start) / 1_000_000 }]
                 end)
    assert_equal 4, question(told["found"].first["find"], to_us: start + 60_000_000).total
    curve = told["curve"].to_h { |one| one.values_at("level", "alerts") }
    assert_equal({ 1 => 3, 2 => 3, 3 => 2, 5 => 0 }, curve)
    assert_equal 0, Store::AlertRule.count
  end

  # By the hour where there is no more than a day, by the day of the zone where there is a month.
  def test_all_lines_of_the_days_on_which_a_rule_is_tried
    told = post_to("/api/alert-rules/trial", { "definition" => RULE, "days" => 1 }, "AlertTrial")
    rail = told["rail"].to_h { |one| [Time.at(one["from_us"] / 1_000_000).utc.strftime("%d %H"), one["lines"]] }
    assert_equal({ "22 06" => 4, "22 07" => 2, "22 08" => 3 }, rail.select { |_, lines| lines.positive? })
    assert_equal 3, rail.size, "from the first line on"
    import_text("<11>1 2026-10-25T06:00:00Z birch app 1 - - begun\n", name: "birch.log")
    told = post_to("/api/alert-rules/trial", { "definition" => RULE, "days" => 30, "zone" => "Asia/Kolkata" },
                   "AlertTrial")
    last = told["rail"].last
    midnight = Time.at(last["from_us"] / 1_000_000).utc.strftime("%R")
    assert_equal [29, "18:30", 9], [told["rail"].size, midnight, last["lines"]]
    unfit = post_to("/api/alert-rules/trial", { "definition" => RULE, "zone" => "Mars" })
    assert_equal [400, "zone"], unfit.values_at("status", "parameter")
  end

  # Of the two, one was at half past eight.
  def test_a_rule_that_is_watched_at_some_hours
    hours = { "from" => "08:00", "to" => "09:00", "zone" => "UTC" }
    told = post_to("/api/alert-rules/trial", { "definition" => RULE.merge("hours" => hours) }, "AlertTrial")
    assert_equal [9, 1], told.values_at("lines", "alerts")
    unfit = post_to("/api/alert-rules/trial", { "definition" => RULE.merge("hours" => { "from" => "8" }) })
    assert_equal [422, "hours"], unfit.values_at("status", "parameter")
  end

  def test_whose_a_rule_is_and_what_it_says_to_do_first
    Store::Team.add("Network")
    told = RULE.merge("owner" => "Network", "steps" => "[Book](https://wiki.example/{host.name}), {user.name}")
    id = made(told)["id"]
    assert_equal ["Network"], ask("/api/alert-rules", "AlertRules")["owners"]
    alert = raised
    detail = ask("/api/alerts/#{alert.id}", "AlertDetail")
    assert_equal ["Network", "[Book](https://wiki.example/alder), {user.name}"],
                 detail.values_at("owner", "first_steps")
    found = ->(name) { ask("/api/alerts?find=owner%20%3D%20#{name}", "Alerts")["total"] }
    assert_equal [1, 0], [found.call("Network"), found.call("Olav")]
    assert_equal id, alert.rule_id
  end

  # Refused at 0, 10, 20 and 25 s: by any moment as many as there were in the minute before.
  def test_the_course_of_what_crossed
    start = Time.utc(2026, 11, 22, 6).to_i * 1_000_000
    alert = raised(from_us: start, raised_us: start + 20_000_000, last_us: start + 25_000_000)
    course = ask("/api/alerts/#{alert.id}/course", "AlertCourse")["course"]
    assert_equal ["lines within 1 min", 3, nil, nil], course.values_at("says", "level", "critical", "unit")
    from, step = course.values_at("from_us", "step_us")
    within = ->(second) { [0, 10, 20, 25].count { |at| at <= second && at > second - 60 } }
    course["values"].each_with_index do |value, index|
      first, last = [index, index + 1].map { |at| (from + (at * step) - start) / 1e6 }
      moments = [last, *[0, 10, 20, 25].select { |at| at > first && at <= last }]
      assert_equal moments.map { |at| within.call(at) }.max, value, "#{first} to #{last} s"
    end
    assert_equal 4, course["values"].max
  end

  def test_the_course_of_a_measure
    took = { 0 => 900, 10 => 300, 60 => 2500, 70 => 100 }.map do |second, ms|
      "<14>1 #{(Time.utc(2026, 11, 22, 8) + second).strftime('%FT%TZ')} alder shop 1 - - took duration_ms=#{ms}\n"
    end
    import_text(took.join, name: "took.log")
    measure = { "find" => "took", "of" => "max(duration_ms)", "above" => "2s", "critical" => "9s", "within" => "60s" }
    made(RULE.merge("when" => { "measure" => measure }))
    start = Time.utc(2026, 11, 22, 8).to_i * 1_000_000
    alert = raised(from_us: start + 60_000_000, raised_us: start + 120_000_000, last_us: start + 120_000_000)
    course = ask("/api/alerts/#{alert.id}/course", "AlertCourse")["course"]
    assert_equal ["max(duration_ms) of each 1 min", 2.0, 9.0, "s"],
                 course.values_at("says", "level", "critical", "unit")
    assert_equal [0.9, 2.5], course["values"].compact
    assert_equal start, course["from_us"] + (course["values"].index(0.9) * course["step_us"])
  end

  def test_what_is_found_out_has_no_course
    made(RULE.merge("when" => { "restart" => { "by" => ["host.name"] } }))
    assert_nil ask("/api/alerts/#{raised.id}/course", "AlertCourse")["course"]
  end

  def test_that_one_line_came_has_no_course
    made(RULE.merge("when" => { "count" => COUNT.merge("at_least" => 1) }))
    assert_nil ask("/api/alerts/#{raised.id}/course", "AlertCourse")["course"]
  end

  def test_the_fleet_tells_of_alerts_that_are_not_closed
    first = raised
    raised("birch")
    rows = -> { ask("/api/fleet", "FleetPage")["rows"].map { |row| row["machine"] } }
    machines = -> { rows.call.to_h { |one| one.values_at("machine", "alerts") } }
    assert_equal({ "first" => [{ "id" => first.id, "name" => "Many refused", "severity" => 3, "state" => "open" }],
                   "all" => 1 }, machines.call["alder"])
    assert_equal 1, ask("/api/fleet", "FleetPage")["ill"]
    group = ask("/api/fleet/availability?by=machine", "Availability")["groups"].first
    assert_equal ["alder", 1], [group["name"], group["alerts"]["all"]]
    assert_equal(1, ask("/api/fleet/map", "FleetMap")["machines"].sum { |one| one["alerts"]["all"] })
    act("close", first)
    assert_equal 0, machines.call["alder"]["all"]
  end

  def test_rules_are_made_changed_switched_and_had_back
    rule = made
    assert_equal ["Many refused", "error", true, 0], rule.values_at("name", "severity", "enabled", "open")
    path = "/api/alert-rules/#{rule['id']}"
    changed = patch_at(path, { "definition" => RULE.merge("severity" => "warning"), "enabled" => false }, "AlertRule")
    assert_equal ["warning", false], changed.values_at("severity", "enabled")
    remove(path, "AlertRule")
    assert_empty ask("/api/alert-rules", "AlertRules")["rules"]
    post_to("#{path}/restored", {}, "AlertRule")
    assert_equal 1, ask("/api/alert-rules", "AlertRules")["rules"].size
  end

  def test_bad_rules_say_which_part
    {
      "name" => RULE.merge("name" => ""), "severity" => RULE.merge("severity" => "bad"),
      "when" => RULE.merge("when" => { "never" => {} }), "within" => rule_with("within" => "5 apples"),
      "at_least" => rule_with("at_least" => 0), "by" => rule_with("by" => %w[a b c]),
      "find" => rule_with("find" => "host.name ="), "often" => rule_with("often" => 1),
      "color" => RULE.merge("color" => "x"),
      "quiet" => RULE.merge("quiet" => "10s")
    }.each do |part, definition|
      told = post_to("/api/alert-rules", { "definition" => definition })
      assert_equal [422, part], [last_response.status, told["parameter"]], told["detail"]
    end
    assert_equal 0, Store::AlertRule.count
  end

  def rule_with(values) = RULE.merge("when" => { "count" => COUNT.merge(values) })

  def test_an_alert_is_taken_closed_with_a_remedy_and_had_back
    one = raised
    told = ask("/api/alerts", "Alerts")
    assert_equal [1, { "open" => 1, "taken" => 0, "closed" => 0 }], told.values_at("total", "counts")
    act("take", one)
    act("note", one, text: "called the harbour")
    act("close", one, text: "restarted the pool")
    detail = ask("/api/alerts/#{one.id}", "AlertDetail")
    assert_equal ["closed", "(this computer)", "restarted the pool"], detail.values_at("state", "taken_by", "remedy")
    assert_equal(%w[raised take note close], detail["steps"].map { |step| step["what"] })
    assert_equal "closed", detail["state"]
    post_to("/api/alerts/#{one.id}/undone", {}, "AlertDetail")
    assert_equal "taken", ask("/api/alerts/#{one.id}")["state"]
    assert_equal 1, act("reopen", one)["left"], "what is not closed is not opened again"
    later = raised(from_us: 5_000_000_000, raised_us: 5_000_000_000, last_us: 5_000_000_000)
    assert_equal([one.id], ask("/api/alerts/#{later.id}", "AlertDetail")["seen_before"].map { |other| other["id"] })
  end

  def test_many_at_once_and_filters
    all = %w[alder birch cedar].map { |name| raised(name) }
    assert_equal 0, act("take", *all.first(2))["left"]
    assert_equal({ "open" => 1, "taken" => 2, "closed" => 0 }, ask("/api/alerts?state=open", "Alerts")["counts"])
    assert_equal(%w[cedar], ask("/api/alerts?state=open")["alerts"].map { |one| one["machine"] })
    assert_equal 0, ask("/api/alerts?from=95000001", "Alerts")["total"]
    assert_equal 3, ask("/api/alerts?from=95000000&to=90000001", "Alerts")["total"]
    ask("/api/alerts?state=asleep")
    assert_equal 400, last_response.status
    act("burn", *all)
    assert_equal 400, last_response.status
  end

  def found(query) = ask("/api/alerts?#{query}", "Alerts").then { |told| told["alerts"].map { |one| one["machine"] } }

  # Of everything that there is, and counted so.
  def test_a_find_text_is_on_the_rule_the_machine_and_what_people_say_of_it
    Store::Fleet.keep([Fleet::Roster::Machine.new(name: "birch", site: "auk", tags: [], needs: [])])
    %w[alder birch cedar].each { |name| raised(name) }
    assert_equal %w[birch], found("find=host.site+%3D+auk")
    assert_equal %w[cedar alder], found("find=host.name+%3D+alder+or+host.name+%3D+cedar")
    assert_equal 1, ask("/api/alerts?find=host.name+%3D+alder", "Alerts")["counts"]["open"]
    assert_equal 422, ask("/api/alerts?find=%28")["status"]
  end

  def test_by_when_they_were_taken_or_closed
    first, second, third = %w[alder birch cedar].map { |name| raised(name) }
    Store::Clock.stub(:now_us, 200_000_000) { act("close", second, text: "x") }
    Store::Clock.stub(:now_us, 300_000_000) { act("close", first, text: "x") }
    Store::Clock.stub(:now_us, 400_000_000) { act("take", third) }
    assert_equal([%w[alder birch], %w[birch], %w[cedar], []],
                 ["by=closed", "by=closed&to=300000000", "by=taken", "by=taken&to=1"].map { |query| found(query) })
    assert_match(/by is one of raised, taken, closed/, ask("/api/alerts?by=x")["detail"])
  end

  # Raised at 06:00:20, before anybody opened the case at 06:30, and before the machine was back at 06:01:00.
  def test_what_it_would_have_told_of_before_people_saw_it
    start_us = Time.utc(2026, 11, 22, 6).to_i * 1_000_000
    import_text("<6>1 2026-11-22T06:01:00Z alder kernel - - - Linux version 6.1.0 (builder@auk) #1 SMP\n", name: "boot")
    event = question("refused").page(limit: 1).events.first
    kept = Store::Case.create!(title: "Refused", status: "closed", onset_us: start_us, changed_us: 1,
                               created_us: start_us + 1_800_000_000, closed_us: start_us + 3_600_000_000)
    Store::Case.create!(title: "Open", onset_us: start_us, created_us: 1, changed_us: 1)
    Store::Pin.create!(case_id: kept.id, created_us: 1, note: "",
                       **Store::Pin.of_line(event, Store::Source.find(event.source_id)))
    tried = post_to("/api/alert-rules/trial", { definition: RULE }, "AlertTrial")
    assert_equal([["restart", 40], ["case", 1780]],
                 tried["caught"].map { |one| [one["kind"], one["before_us"] / 1_000_000] })
    assert_equal 10, tried["all_lines"]
    late = RULE.merge("when" => { "count" => COUNT.merge("find" => "9050", "at_least" => 1) })
    tried = post_to("/api/alert-rules/trial", { definition: late }, "AlertTrial")
    assert_equal([["case", 1800 - 9050]], tried["caught"].map { |one| [one["kind"], one["before_us"] / 1_000_000] })
  end

  # A line of the same pattern is pinned to a closed case.
  def test_what_helped_in_a_case_is_offered
    made
    Store::AlertRule.update_all(changed_us: 1)
    event = question("refused").page(limit: 1).events.first
    kept = Store::Case.create!(title: "Refused", status: "closed", remedy: "opened the port", created_us: 1,
                               changed_us: 1, closed_us: 2)
    Store::Pin.create!(case_id: kept.id, created_us: 1, note: "",
                       **Store::Pin.of_line(event, Store::Source.find(event.source_id)))
    one = raised(from_us: event.time_us, raised_us: event.time_us, last_us: event.time_us)
    assert_equal(["opened the port"], ask("/api/alerts/#{one.id}", "AlertDetail")["remedies"].map do |told|
      told["remedy"]
    end)
  end
end
