# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"
require "mail"

# One alert for one trouble; what is muted and what is planned.
class AlertFoldsTest < Northdrift::AskingTest
  include Northdrift
  include Telling

  def setup
    super
    edges = [%w[app db], %w[db switch]].map { |one, on| Northdrift::Fleet::Dependencies::Edge.new(one, on, "needs") }
    Store::Fleet.add(edges)
    @server = MailServer.new
    ENV["NORTHDRIFT_MAIL_SERVER"] = @server.place
    import_text("<11>1 2026-11-22T06:01:20Z app x 1 - - refused\n")
  end

  def teardown
    ENV.delete("NORTHDRIFT_MAIL_SERVER")
    @server.stop
    super
  end

  def listed(query = "") = ask("/api/alerts?#{query}", "Alerts")
  def names(told) = told["alerts"].map { |one| one["machine"] }

  def stall
    raise_alert("switch")
    later(60)
    raise_alert("db")
    later(120)
    raise_alert("app")
  end

  def test_what_stands_on_one_chain_is_one_alert
    stall
    told = listed
    assert_equal [["switch"], 2, { "open" => 1, "taken" => 0, "closed" => 0 }],
                 [names(told), told["alerts"][0]["folded"], told["counts"]]
    folded = listed("root=#{told['alerts'][0]['id']}")
    assert_equal %w[app db], names(folded)
    app = ask("/api/alerts/#{folded['alerts'][0]['id']}", "AlertDetail")
    assert_equal [%w[app db switch], "Many refused"], [app["fold_path"], app["root"]["name"]]
  end

  # Who looks for a machine finds the trouble that its alert is a part of.
  def test_one_that_is_folded_is_found_with_its_root
    stall
    of = ->(machine) { names(listed("find=host.name%20%3D%20#{machine}")) }
    assert_equal [["switch"], []], [of.call("app"), of.call("other")]
  end

  def test_a_root_that_comes_late_takes_the_others_in
    raise_alert("app")
    later(60)
    raise_alert("db")
    assert_equal ["db"], names(listed)
    later(60)
    raise_alert("switch")
    assert_equal [["switch"], 2], [names(listed), listed["alerts"][0]["folded"]]
  end

  def test_one_trouble_is_told_once
    on_call = route
    stall
    tell(on_call)
    assert_equal 1, @server.taken.size
    assert_equal 1, Store::AlertDelivery.count
  end

  # What is behind it is nothing for this route; what it did, is.
  def test_what_is_worse_than_what_was_told_is_told
    on_call = route("mail", { "to" => ["oncall@tarnholm.example"] }, severity: "warning")
    raise_alert("switch").update!(severity: 5)
    later(60)
    raise_alert("db").update!(severity: 4)
    tell(on_call)
    raise_alert("app")
    tell(on_call)
    subjects = @server.taken.map { |_, data| Mail.read_from_string(data) }
    assert_equal ["warning: Many refused, db", "error: Many refused, app"], subjects.map(&:subject)
    assert_includes subjects.last.text_part.decoded, "Because of   Many refused, switch"
  end

  def test_what_is_done_with_one_is_done_with_what_is_folded_under_it
    stall
    root = Store::Alert.find_by(machine: "switch")
    act = { "action" => "close", "ids" => [root.id], "text" => "The old size was set again." }
    post_to("/api/alerts/actions", act, "AlertsChanged")
    assert_equal [["closed", "The old size was set again."]], Store::Alert.distinct.pluck(:state, :remedy)
    post_to("/api/alerts/#{root.id}/undone", {}, "AlertDetail")
    assert_equal [["open", ""]], Store::Alert.distinct.pluck(:state, :remedy)
  end

  def test_a_rule_whose_alerts_stand_by_themselves
    stall
    rule = Store::AlertRule.sole
    given = { "definition" => rule.given.merge("fold" => false) }
    patch_at("/api/alert-rules/#{rule.id}", given, "AlertRule")
    assert_equal 3, listed["counts"]["open"]
    later(10)
    Store::Alert.delete_all
    Store::AlertStep.delete_all
    stall
    assert_equal 3, listed["counts"]["open"]
  end

  def quiet(**values)
    post_to("/api/alert-quiets", { "kind" => "mute" }.merge(values.transform_keys(&:to_s)), "QuietOfRule")
  end

  def test_what_is_muted_is_raised_and_not_told
    on_call = route
    first = raise_alert("mail")
    quiet(rule_id: first.rule_id, find: 'host.name = "mail"', from_us: clock.call, why: "known, waits for a part")
    later(4000)
    raise_alert("mail")
    raise_alert("web")
    assert_equal ["web"], names(listed("quiet=no"))
    told = listed("quiet=only")
    assert_equal [2, "known, waits for a part", 2], [told["quiet"], told["alerts"][0]["quiet"]["why"], told["total"]]
    tell(on_call)
    assert_equal(["error: Many refused, web"], @server.taken.map { |_, data| Mail.read_from_string(data).subject })
  end

  def test_a_mute_ends_and_can_be_ended
    alert = raise_alert("mail")
    id = quiet(find: "host.name = mail", from_us: clock.call, until_us: clock.call + (60 * SECOND))["id"]
    assert_equal id, alert.reload.quiet_id
    remove("/api/alert-quiets/#{id}", "QuietOfRule")
    assert_nil alert.reload.quiet_id
    post_to("/api/alert-quiets/#{id}/restored", {}, "QuietOfRule")
    assert_equal id, alert.reload.quiet_id
    later(4000)
    assert_nil raise_alert("mail").quiet_id
  end

  # It was muted when it was raised, and goes on.
  def test_what_goes_on_when_its_mute_is_over_is_told
    on_call = route
    quiet(find: "host.name = mail", from_us: clock.call, until_us: clock.call + (60 * SECOND))
    alert = raise_alert("mail")
    tell(on_call)
    assert_empty @server.taken
    later(50)
    raise_alert("mail")
    tell(on_call)
    assert_equal [nil, 1], [alert.reload.quiet_id, @server.taken.size]
  end

  # By the sites and tags that people say of machines.
  def test_planned_work_is_marked
    Store::Fleet.keep([Northdrift::Fleet::Roster::Machine.new(name: "gate", site: "auk", tags: [], needs: [])])
    quiet(
      kind: "maintenance", find: "host.site = auk", from_us: clock.call - SECOND,
      until_us: clock.call + (600 * SECOND), why: "new cables"
    )
    assert_equal "maintenance", raise_alert("gate").quiet.kind
    assert_nil raise_alert("mail").quiet
    later(3600)
    assert_nil raise_alert("gate").quiet
  end

  # Half an hour behind an entry of the logbook that says so, of the machine itself.
  def test_planned_work_that_the_logbook_tells
    quiet(kind: "maintenance", entries: %w[package machine-restart], says: "PLANNED", lasts_us: 1800 * SECOND,
          find: "not host.name = vault", from_us: START)
    import_text("Nov 22 06:01:00 gate patchbot[5120]: packages upgraded, restarting as planned for 06:01\n" \
                "Nov 22 06:01:00 vault patchbot[5120]: packages upgraded, restarting as planned for 06:01\n" \
                "Nov 22 06:01:00 mail systemd-logind[540]: System is rebooting.\n", name: "planned.log")
    later(60)
    assert_equal "maintenance", raise_alert("gate").quiet&.kind
    assert_equal([nil, nil], %w[mail vault].map { |machine| raise_alert(machine).quiet })
    later(3600)
    assert_nil raise_alert("gate").quiet
    listed = ask("/api/alert-quiets", "Quiets")["quiets"].first
    assert_equal [%w[package machine-restart], "PLANNED", 1800 * SECOND],
                 listed.values_at("entries", "says", "lasts_us")
  end

  # Of a rule, for half an hour every Sunday; in Oslo it is an hour later.
  def test_it_is_quiet_at_the_same_hours_again_and_again
    hours = { "days" => ["sun"], "from" => "07:00", "to" => "07:30", "zone" => "Europe/Oslo" }
    made = quiet(kind: "maintenance", rule_id: raise_alert("vault").rule_id, hours: hours, from_us: START)
    assert_equal hours, made["hours"]
    assert_equal made["id"], raise_alert("mail").quiet_id
    later(3600)
    assert_nil raise_alert("gate").quiet
    later(23 * 3600)
    assert_nil raise_alert("mail").quiet, "on a Monday"
    later(6 * 86_400)
    assert_equal made["id"], raise_alert("web").quiet_id
  end

  def test_a_quiet_time_that_will_not_do
    { { "kind" => "nap" } => "kind", { "kind" => "mute" } => "find", { "kind" => "mute", "rule_id" => 99 } => "rule_id",
      { "kind" => "mute", "find" => "x", "from_us" => 5, "until_us" => 4 } => "until_us",
      { "kind" => "maintenance", "entries" => ["tea"] } => "entries",
      { "kind" => "mute", "find" => "x", "hours" => {} } => "hours",
      { "kind" => "mute", "find" => "x", "hours" => { "from" => "8" } } => "hours",
      { "kind" => "maintenance", "entries" => ["disk"], "lasts_us" => 1 } => "lasts_us" }.each do |given, parameter|
      assert_equal [400, parameter], post_to("/api/alert-quiets", given).values_at("status", "parameter")
    end
    assert_equal 422, post_to("/api/alert-quiets", { "kind" => "mute", "find" => "host.name = (" })["status"]
  end
end
