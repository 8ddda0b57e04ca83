# frozen_string_literal: true

require_relative "../test_helper"

# What people did comes in as lines.
class AuditLinesTest < Northdrift::StoreTest
  include Northdrift
  include Collecting

  def setup
    super
    import_text("Nov 22 06:00:00 alder app: one\n")
    Store::Person.add("Ann", role: "administrator", password: "zither-lantern-plum")
    Intake::Live::Inlets.set_up
    # Nothing listens on a port that another test has.
    Store::Feed.where.not(kind: "audit").delete_all
  end

  def teardown
    stop_collecting
    super
  end

  def append(who, action, outcome, changes = [])
    Store::AuditTrail.append(
      who: who, address: "192.0.2.7", action: action, target: "/api/people/2", outcome: outcome, changes: changes
    )
  end

  def entries = question("service.name = northdrift").page.events

  def test_each_entry_is_a_line_once_whatever_is_killed
    append("Ann", "PATCH /api/people/{id}", 200,
           [{ "what" => "people", "id" => 2, "before" => { "role" => "viewer" }, "after" => { "role" => "operator" } }])
    append("Bob", "PUT /api/keeping", 403)
    collect
    eventually { entries.size == 2 }
    one, other = entries
    assert_equal "Ann: Change what somebody may do: /api/people/2", one.message
    assert_equal [nil, "northdrift", "informational"], [one.machine, one.service, Severity.name(one.severity)]
    assert_equal ["Ann", "192.0.2.7", "people 2: role viewer → operator"],
                 one.fields.values_at("user.name", "client.address", "changes")
    assert_equal ["warning", 403], [Severity.name(other.severity), other.fields["outcome"]]
    assert_equal Store::AuditTrail.latest(2).map(&:at_us), [other, one].map(&:time_us)
    stop_collecting
    # As where it was ended between the two transactions.
    Store::Setting.set(Intake::Live::Inlets::Audit::TOLD, "0")
    append("Ann", "DELETE /api/session", 200)
    collect
    eventually { Store::Setting.get(Intake::Live::Inlets::Audit::TOLD) == "3" }
    assert_equal(%w[Ann Bob Ann], entries.map { |event| event.fields["user.name"] })
  end

  def test_who_is_limited_sees_none_of_them
    append("Ann", "PUT /api/keeping", 200)
    collect
    eventually { entries.size == 1 }
    ["service.name = northdrift", "not host.name = alder", "has source", "source != x"].each do |sight|
      Store::Sight.within(sight) { assert_equal 0, question("service.name = northdrift").total, sight }
    end
  end

  # Where nobody logs in, nobody did anything.
  def test_they_are_a_source_of_their_own_once_there_are_people
    feed = Store::Feed.find_by(kind: "audit")
    assert_equal "Audit trail", feed.name
    feed.update!(deleted_us: 1)
    Intake::Live::Inlets.set_up
    assert_equal 1, Store::Feed.where(kind: "audit").count, "what was taken away stays away"
    Store::Feed.delete_all
    Store::Person.delete_all
    Intake::Live::Inlets.set_up
    assert_equal %w[tcp tls udp], Store::Feed.pluck(:kind).sort
    assert_raises(Intake::Live::FeedForm::Unfit) { Intake::Live::FeedForm.check_new("audit", {}) }
  end
end
