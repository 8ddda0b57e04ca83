# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"

# What is unusual without a rule for it.
class OdditiesTest < Northdrift::AskingTest
  include Northdrift

  HOUR = 3600
  START = Time.utc(2026, 11, 2)

  def line(time, text, machine: "alder", service: "beat", severity: 6)
    "<#{8 + severity}>1 #{time.strftime('%FT%TZ')} #{machine} #{service} 1 - - #{text}\n"
  end

  # Twelve lines an hour, up to the end of an hour.
  def beats(hours, machine: "alder", except: [])
    (0...(hours * 12)).reject { |n| except.include?(n / 12) }
      .map { |n| line(START + (n * 300), "all is well after #{n} ms", machine: machine) }.join
  end

  def at(hours, minutes = 5) = START + (hours * HOUR) + (minutes * 60)

  # Looks as it is looked each minute, until all was.
  def notice(hours)
    now_us = (START + (hours * HOUR)).to_i * 1_000_000
    Store::Clock.stub(:now_us, now_us) do
      nil until Store::OddityNoticing.new(now_us).run
    end
  end

  def told = Store::Oddity.order(:from_us, :id).map { |one| [one.kind, one.machine, one.lines] }
  def list(query = "") = ask("/api/unusual?priority=0#{query}", "Oddities")

  def test_nothing_is_noticed_where_nothing_is
    notice(10)
    assert_empty list["oddities"]
    import_text(beats(100))
    notice(101)
    assert_empty list["oddities"]
  end

  def test_a_pattern_that_was_never_there
    import_text(beats(100) + line(at(98), "the pool ran dry",
                                  severity: 3) + line(at(99), "the pool ran dry", severity: 3))
    notice(100)
    one = list["oddities"].first
    assert_equal ["pattern", 2, 3, "A pattern that was never there: beat on alder", "the pool ran dry"],
                 [*one.values_at("kind", "lines", "severity", "says"), one.dig("pattern", "text")]
    assert_equal([at(98), at(99)], one.values_at("from_us", "last_us").map { |us| Time.at(0, us, :usec) })
    assert_equal 2, question(one["find"]).total
    detail = ask("/api/unusual/#{one['id']}", "OddityDetail")
    assert_equal [[true], ["alder"], [1, 1], ["the pool ran dry"] * 2],
                 [detail["sources"].map do |source|
                   source["unusual"]
                 end, detail["machines"], detail["course"].map do |hour|
                                            hour["lines"]
                                          end,
                  detail["samples"].map { |sample| sample["message"] }]
  end

  # What comes again is no other, and it is seen how it goes on.
  def test_it_goes_on
    import_text(beats(100) + line(at(99), "the pool ran dry"))
    2.times { notice(100) }
    import_text((100...103).map do |hour|
      line(at(hour), "the pool ran dry") + line(at(hour), "all is well after 3 ms")
    end.join)
    notice(104)
    assert_equal [["pattern", "alder", 4]], told
  end

  # Of a machine that came yesterday all is new.
  def test_what_is_new_itself_is_learned
    import_text(beats(100) + line(at(90), "hello",
                                  machine: "birch") + line(at(99), "the pool ran dry", machine: "birch"))
    notice(100)
    assert_empty told
  end

  def test_more_of_a_pattern_and_not_of_its_machine_once_more
    import_text(beats(100) + Array.new(200) { |n| line(at(95) + n, "all is well after #{n} ms") }.join)
    notice(100)
    assert_equal [["more", "alder", 212]], told
    one = list["oddities"].first
    assert_equal "More lines of a pattern than usual: 212, where about 12 are usual: beat on alder", one["says"]
    assert_equal at(95, 0), Time.at(0, one["from_us"], :usec)
  end

  # Its services and patterns are missed with it, and are not told one by one.
  def test_less_of_a_machine_is_told_once
    twice = (0...100).map { |hour| Array.new(60) { |n| line(at(hour, n), "pass #{n}", machine: "birch") }.join }
    twice[95] = line(at(95), "pass 1", machine: "birch")
    import_text(beats(100) + twice.join)
    notice(100)
    assert_equal [["less", "birch", 1]], told
    assert_equal "Fewer lines than usual: 1, where about 60 are usual: birch", list["oddities"].first["says"]
  end

  def test_a_value_that_a_field_never_had
    web = lambda do |hour, n, status|
      line(at(hour, n), "asked path=/book code=#{status}", service: "web")
    end
    asked = (0...100).map { |hour| Array.new(6) { |n| web.call(hour, n, n.zero? ? 404 : 200) }.join }
    import_text(beats(100) + asked.join + web.call(98, 30, 503))
    notice(100)
    one = list["oddities"].find { |other| other["kind"] == "value" }
    assert_equal %w[code 503], one.values_at("field", "value")
    assert_equal 1, question(one["find"]).total
    assert_equal "code was never “503” before: web on alder", one["says"]
    assert_equal 1, Store::Oddity.where(kind: "value").count
  end

  # A field with another value each time has none that is new.
  def test_a_field_of_many_values_is_left_alone
    logons = (0...400).map { |n| line(at(n / 4, n % 4), "asked ticket=s#{n}x place=auk", service: "web") }
    import_text(beats(100) + logons.join)
    notice(100)
    assert_empty told
    assert_equal [["ticket", ""]],
                 Store::Database.rows("SELECT field, value FROM usual_values WHERE field = 'ticket'")
  end

  def put_state(id, **wanted) = put_at("/api/unusual/#{id}/state", wanted, "Oddity")

  def test_what_is_said_of_it_holds_when_it_comes_again
    burst = ->(hour) { Array.new(200) { |n| line(at(hour) + n, "all is well after #{n} ms") }.join }
    import_text(beats(130) + burst.call(95))
    notice(100)
    id = list["oddities"].first["id"]
    muted = put_state(id, state: "muted", why: "a test of the pump")
    assert_equal ["muted", nil, "a test of the pump"], muted.values_at("state", "until_us", "why")
    assert_equal({ "open" => 0, "muted" => 1, "normal" => 0 }, list["counts"])
    import_text(burst.call(110))
    notice(120)
    assert_equal(%w[muted muted], list("&state=all")["oddities"].map { |one| one["state"] })
    put_state(id, state: "open")
    assert_equal [1, 1], list["counts"].values_at("open", "muted")
  end

  def test_after_some_days_it_is_taken_as_normal
    import_text(beats(100) + line(at(98), "the pool ran dry"))
    notice(100)
    Store::PageSettings.new(**Store::PageSettings::DEFAULTS, normal_days: 2).save
    notice(98 + 47)
    assert_equal 1, list["counts"]["open"]
    notice(98 + 49)
    one = list("&state=normal")["oddities"].first
    assert_equal "taken as normal after 2 days", one["why"]
  end

  def test_bad_requests_say_what
    import_text(beats(100) + line(at(99), "the pool ran dry"))
    notice(100)
    id = list["oddities"].first["id"]
    assert_match(/a state is one of open, muted, normal/, put_state(id, state: "gone")["detail"])
    assert_match(/a time to come/, put_state(id, state: "muted", until_us: 1)["detail"])
    assert_match(/a state is one of/, list("&state=x")["detail"])
    assert_match(/no such thing/, put_state(id + 1, state: "open")["detail"])
  end

  def test_little_of_no_matter_is_not_listed_but_counted
    import_text(beats(100) + line(at(98), "a note of debugging", severity: 7))
    notice(100)
    listed = ask("/api/unusual", "Oddities")
    assert_equal [[], 0, 1], [*listed.values_at("oddities", "total"), listed["less"]]
  end

  # The rule says from which priority on.
  def test_a_rule_raises_alerts_of_it
    import_text(beats(100) + line(at(98), "the pool ran dry", severity: 3) + line(at(98), "a note", severity: 7))
    rule = { "name" => "Unusual", "when" => { "unusual" => { "priority" => 80, "by" => ["host.name"] } } }
    made = post_to("/api/alert-rules", { definition: rule, enabled: true }, "AlertRule")
    window = { from: START.to_i * 1_000_000, to: at(100).to_i * 1_000_000 }
    assert_empty post_to("/api/alert-rules/trial", { definition: rule, **window }, "AlertTrial")["found"]
    notice(100)
    assert_equal 2, told.size
    tried = post_to("/api/alert-rules/trial", { definition: rule, **window }, "AlertTrial")
    assert_equal([["alder"]], tried["found"].map { |one| one["key"] })
    Store::AlertRule.find(made["id"]).update!(changed_us: 1)
    Store::Clock.stub(:now_us, at(99).to_i * 1_000_000) do
      Intake::Watcher.new(clock: -> { at(99).to_i * 1_000_000 }).step
    end
    alert = ask("/api/alerts/#{Store::Alert.sole.id}", "AlertDetail")
    assert_equal ["alder", 1, ["A pattern that was never there: beat on alder"]],
                 alert.values_at("machine", "lines", "told")
    assert_equal 1, question(alert["find"]).total
  end

  def test_a_rule_on_it_says_what_it_does_not_know
    tried = ->(part) { post_to("/api/alert-rules/trial", { definition: { name: "x", when: { unusual: part } } }) }
    assert_match(/there is no “lines”; there are pattern, value, more, less/, tried.call({ of: ["lines"] })["detail"])
    assert_match(/priority is a whole number from 0 to 100/, tried.call({ priority: 101 })["detail"])
  end

  # A boot without anything before it that explains it.
  def test_a_restart_that_nothing_explains
    boot = line(at(98), "Linux version 6.1.0 (builder@auk) #1 SMP", service: "kernel")
    import_text(beats(97) + boot + line(at(99), "all is well after 1 ms"))
    rule = { "name" => "Restarted", "when" => { "restart" => { "of" => ["unknown"], "by" => ["host.name"] } } }
    window = { from: START.to_i * 1_000_000, to: at(100).to_i * 1_000_000 }
    tried = post_to("/api/alert-rules/trial", { definition: rule, **window }, "AlertTrial")
    assert_equal([[at(98), "alder"]],
                 tried["found"].map { |one| [Time.at(0, one["raised_us"], :usec), *one["key"]] })
    other = rule.merge("when" => { "restart" => { "of" => ["panic"] } })
    assert_empty post_to("/api/alert-rules/trial", { definition: other, **window }, "AlertTrial")["found"]
  end

  # It told its end the first time, and not the second: it was killed.
  def test_a_service_that_was_killed
    said = [[96, "Started"], [97, "Stopped"], [97.1, "Started"], [98, "Started"]]
    lines = said.map { |hour, says| line(at(hour), "#{says} booth.service - Booth.", service: "systemd") }
    import_text(beats(95) + lines.join)
    by = ["host.name", "service.name"]
    rule = { "name" => "Killed", "when" => { "restart" => { "of" => ["unended"], "by" => by } } }
    window = { from: START.to_i * 1_000_000, to: at(100).to_i * 1_000_000 }
    tried = post_to("/api/alert-rules/trial", { definition: rule, **window }, "AlertTrial")
    assert_equal([[at(98), "alder", "booth"]],
                 tried["found"].map { |one| [Time.at(0, one["raised_us"], :usec), *one["key"]] })
    of_machines = rule.merge("when" => { "restart" => { "of" => ["unended"] } })
    assert_empty post_to("/api/alert-rules/trial", { definition: of_machines, **window }, "AlertTrial")["found"]
  end

  def test_a_source_that_is_off
    import_text(beats(100) + line(at(99), "the pool ran dry"))
    id = Store::Source.sole.id
    refute patch_at("/api/sources/#{id}", { unusual: false })["unusual"]
    refute ask("/api/sources/#{id}", "SourceText")["unusual"]
    notice(100)
    assert_empty told
    assert_equal([false], list["left_out"].map { |source| source["unusual"] })
    assert_match(/true or false/, patch_at("/api/sources/#{id}", { unusual: "no" })["detail"])
  end

  # With the lines that it is about it goes.
  def test_it_is_forgotten_with_its_lines
    import_text(beats(100) + line(at(98), "the pool ran dry"))
    notice(100)
    assert_equal 1, told.size
    Store::Database.step { Store::Removal.take_out(question("").to_enum(:each).map(&:id).first(1195)) }
    notice(101)
    assert_empty told
  end
end
