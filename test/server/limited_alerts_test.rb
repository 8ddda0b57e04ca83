# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"

# Who is limited to a part of the lines sees the alerts of that part, and nothing of others.
class LimitedAlertsTest < Northdrift::AskingTest
  include Northdrift

  SECOND = 1_000_000
  LINES = <<~LOG
    2026-11-22T06:00:00Z switch kernel: link down
    2026-11-22T06:00:01Z alder shop[9]: cannot reach the till
    2026-11-22T06:00:02Z birch shop[9]: cannot reach the till
    2026-11-22T06:00:03Z birch sshd[8]: bad key
    2026-11-22T06:00:04Z cedar shop[9]: cannot reach the till
  LOG
  FLEET = <<~TABLE
    machine,site,needs
    switch,oslo,
    alder,oslo,switch
    birch,oslo,switch
    cedar,oslo,alder
  TABLE

  def setup
    super
    Store::Person.add("Ann", role: "administrator")
    import_text(LINES)
    Store::Fleet.keep(Northdrift::Fleet::Roster.read(FLEET))
    @at_us = question("link").page.events.first.time_us
    @down = rule("Link down", "link")
    @unreachable = rule("Cannot reach", "reach")
    @alerts = { switch: @down, alder: @unreachable, birch: @unreachable, cedar: @unreachable }
      .each_with_index.to_h { |(machine, rule), at| [machine, note(rule, machine.to_s, at)] }
    @who = bearer("host.name in (alder, cedar)")
  end

  def rule(name, find, **further)
    given = { "name" => name, "when" => { "count" => { "find" => find, "by" => ["host.name"] } } }
    Store::AlertRule.create!(given: given.merge(further.transform_keys(&:to_s)), created_us: 1, changed_us: 1).rule
  end

  def note(rule, machine, at)
    us = @at_us + (at * SECOND)
    Store::Database.step { Store::Alert.note(rule, [machine], [Watch::Span.new(us, us, us)], us).first }
  end

  def bearer(sight)
    secret = Store::Token.make("x", role: "responder", days: 1, sight: sight).last
    HOST.merge("HTTP_AUTHORIZATION" => "Bearer #{secret}", "CONTENT_TYPE" => "application/json")
  end

  def ask(path, who: @who, **sent)
    input = sent.empty? ? {} : { method: "POST", input: JSON.generate(sent) }
    request(path, who.merge(input))
    JSON.parse(last_response.body)
  end

  def machines(answer) = answer["alerts"].map { |one| one["machine"] }.sort
  def detail(machine, **further) = ask("/api/alerts/#{@alerts[machine].id}", **further)

  def test_alerts_of_machines_that_they_see
    all = bearer("")
    assert_equal [%w[switch], %w[alder birch cedar switch]],
                 [machines(ask("/api/alerts", who: all)), machines(ask("/api/alerts?root=any", who: all))]
    # All are folded under the switch, which they do not see.
    assert_equal %w[alder cedar], machines(ask("/api/alerts"))
    assert_equal({ "open" => 2, "taken" => 0, "closed" => 0 }, ask("/api/alerts")["counts"])
    assert_equal %w[alder cedar], machines(ask("/api/alerts?find=reach&root=any"))
    assert_empty machines(ask("/api/alerts?find=link&root=any"))
    assert_empty machines(ask("/api/alerts?root=#{@alerts[:switch].id}"))
    assert_equal [nil, nil, [], 1], detail(:alder).values_at("root_id", "root", "fold_path", "lines")
    whole = detail(:alder, who: all)
    assert_equal ["Link down", %w[alder switch]], [whole["root"]["name"], whole["fold_path"]]
    %i[switch birch].each do |hidden|
      detail(hidden)
      assert_equal 404, last_response.status, hidden
      ask("/api/alerts/#{@alerts[hidden].id}/course")
      assert_equal 404, last_response.status, hidden
    end
  end

  # Of birch they see the shop alone: what raised an alert may be what they do not see.
  def test_a_machine_of_which_something_is_hidden
    assert_equal %w[alder cedar], machines(ask("/api/alerts", who: bearer("service.name = shop")))
    assert_equal %w[birch], machines(ask("/api/alerts", who: bearer("host.name = birch")))
    import_text("2026-11-22T07:00:00Z alder cron[3]: run\n", name: "later.log")
    assert_equal %w[cedar], machines(ask("/api/alerts", who: bearer("service.name = shop")))
  end

  # Lines of others may raise what is attached to a field of theirs.
  def test_one_that_is_attached_to_another_field
    other = Store::AlertRule.create!(
      given: { "name" => "Told of", "attach" => "device.name",
               "when" => { "count" => { "find" => "reach", "by" => ["device.name"] } } }, created_us: 1, changed_us: 1
    )
    note(other.rule, "alder", 5)
    assert_equal [["Cannot reach"], 2],
                 [ask("/api/alerts?find=host.name%20=%20alder")["alerts"].map { |one| one["name"] },
                  ask("/api/alerts?root=any")["total"]]
  end

  def test_what_they_do_is_done_with_what_they_see
    ids = @alerts.values.map(&:id)
    done = ask("/api/alerts/actions", action: "take", ids: ids)
    assert_equal [%w[alder cedar], 2], [machines(done), done["left"]]
    states = @alerts.values.map { |one| one.reload.state }
    assert_equal %w[open taken open taken], states
    ask("/api/alerts/#{@alerts[:birch].id}/undone", nothing: true)
    assert_equal 404, last_response.status
    ask("/api/alert-quiets", kind: "mute", find: "", why: "x")
    assert_equal 403, last_response.status, "a mute is of everything"
  end

  # What is behind it, and when nobody is told, is told as far as they see it.
  def test_what_is_told_besides
    # What was kept with it names entries of others.
    kept = question("").page.events.map do |event|
      { "id" => event.id.to_s, "time_us" => event.time_us, "machine" => event.machine, "says" => "x", "score" => 1 }
    end
    Store::Database.step do
      question("").page.events.each do |event|
        Store::Happenings.put(event.id, Logbook::Happening.new("x", "change", 6, event.machine, nil, "x", {}))
      end
      @alerts[:alder].update_columns(cause: Oj.dump(kept, mode: :strict))
      Store::Quiet.create!(kind: "planned", find: "host.name in (alder, birch)", from_us: 0, why: "works",
                           created_us: 1, changed_us: 1).take_in
    end
    assert_equal %w[alder cedar], detail(:alder)["causes"].map { |one| one["machine"] }.sort
    assert_equal 5, detail(:alder, who: bearer(""))["causes"].size
    quiet = detail(:alder)["quiet"]
    assert_equal ["works", ""], quiet.values_at("why", "find")
    assert_equal "host.name in (alder, birch)", detail(:alder, who: bearer(""))["quiet"]["find"]
  end

  def test_now_and_the_fleet_tell_of_them
    assert_equal %w[alder cedar], machines(ask("/api/now"))
    @alerts.each_value { |one| one.act("closed", who: "x", now_us: 2, state: "closed", closed_us: @at_us) }
    assert_empty machines(ask("/api/now"))
    @alerts[:alder].reload.open_again("came again", 3)
    fleet = ask("/api/fleet/map")["machines"]
    assert_equal({ "alder" => 1, "cedar" => 0 }, fleet.to_h { |one| [one["machine"], one["alerts"]["all"]] })
  end
end
