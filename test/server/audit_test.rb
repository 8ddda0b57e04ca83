# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"

# Who did what stands in the audit trail, and cannot be changed there unseen.
class AuditTest < Northdrift::AskingTest
  include Northdrift

  PASSWORD = "zither-lantern-plum"

  def setup
    super
    import_text("Nov 22 06:00:00 alder app: one\n")
  end

  def people
    { "Olav" => "administrator", "Vera" => "viewer" }.each do |name, role|
      Store::Person.add(name, role: role, password: PASSWORD)
    end
  end

  def log_in(name, password = PASSWORD) = post_to("/api/session", { "name" => name, "password" => password })

  # @return [Array<Array>] who, action and outcome, oldest first
  def told = Store::AuditTrail.latest(100).reverse.map { |entry| [entry.who, entry.action, entry.outcome] }

  def test_logins_refusals_changes_and_files
    people
    log_in("Vera", "wrong")
    log_in("Vera")
    put_at("/api/keeping", { "days" => 3, "archive" => true })
    ask("/api/status")
    post_to("/api/exports?form=csv", {})
    ask("/api/fleet/table.json")
    clear_cookies
    ask("/api/status")
    log_in("Olav")
    post_to("/api/parsers/trial", { "pattern" => "(?P<a>x)" })
    put_at("/api/keeping", { "days" => 3, "archive" => true })
    remove("/api/session")
    assert_equal(
      [
        ["(not logged in)", "POST /api/session", 401], ["Vera", "POST /api/session", 200],
        ["Vera", "PUT /api/keeping", 403], ["Vera", "POST /api/exports", 201],
        ["Vera", "GET /api/fleet/table.json", 200], ["Olav", "POST /api/session", 200],
        ["Olav", "PUT /api/keeping", 200], ["(not logged in)", "DELETE /api/session", 200]
      ], told
    )
    entries = Store::AuditTrail.latest(100)
    assert_equal "Olav", entries.first.target, "who logged out"
    assert_equal ["Vera", "127.0.0.1"], [entries.last.target, entries.last.address], "whose name was tried"
    kept = entries.find { |entry| entry.action == "PUT /api/keeping" && entry.outcome == 200 }.changed
    assert_equal([["keeping", 3]], kept.map { |one| [one["what"], Oj.load(Oj.dump(one["after"]["value"]))["days"]] })
  end

  def test_what_changed_is_told_as_it_was_and_is_without_secrets
    people
    log_in("Olav")
    settings = { "url" => "http://192.0.2.1/", "token" => "very-secret-9" }
    relay = post_to("/api/relays", { "name" => "onward", "kind" => "http", "settings" => settings })
    patch_at("/api/relays/#{relay['id']}", { "name" => "inward" })
    patch_at("/api/people/#{Store::Person.named('Vera').id}", { "role" => "operator" })
    post_to("/api/people", { "name" => "Ida", "role" => "viewer" })
    post_to("/api/tokens", { "name" => "nightly", "role" => "viewer", "days" => 3 })
    added, renamed, promoted = Store::AuditTrail.latest(100).reverse.drop(1).map { |entry| entry.changed.first }
    assert_equal ["relays", nil, "onward"], [added["what"], added["before"], added["after"]["name"]]
    assert_equal(%w[onward inward], renamed.values_at("before", "after").map { |side| side["name"] })
    assert_equal(%w[viewer operator], promoted.values_at("before", "after").map { |side| side["role"] })
    said = Store::Database.rows("SELECT changes FROM audit").join
    [Store::Person.named("Olav").password_digest, Store::Token.sole.digest, "very-secret-9",
     Oj.load(Store::Relay.sole.settings)["sealed"]].each { |secret| refute_includes said, secret }
  end

  def test_where_nobody_logs_in_it_is_this_computer
    put_at("/api/keeping", { "days" => 3, "archive" => true })
    assert_equal [["(this computer)", "PUT /api/keeping", 200]], told
    page = ask("/api/audit?limit=1", "AuditPage")
    assert_equal ["PUT /api/keeping", "Set how long lines are kept", false],
                 [*page["entries"].first.values_at("action", "says"), page["more"]]
    assert_equal({ "entries" => 1, "broken" => nil }, ask("/api/audit/check", "AuditCheck"))
  end

  def append(number)
    number.times { |n| Store::AuditTrail.append(who: "x", address: nil, action: "a", target: n.to_s, outcome: 200) }
  end

  def test_nothing_is_changed_or_taken_out
    append(3)
    ["UPDATE audit SET who = 'y'", "DELETE FROM audit"].each do |sql|
      assert_raises(SQLite3::ConstraintException) { Store::Database.rows(sql) }
    end
    assert_equal [3, nil], Store::AuditTrail.verify
  end

  # As one who has the file could: each change of one byte, and each entry that is gone, is found.
  def test_what_was_changed_in_the_file_is_found
    append(5)
    %w[update delete].each { |change| Store::Database.rows("DROP TRIGGER audit_#{change}") }
    {
      "UPDATE audit SET target = '7' WHERE id = 3" => 3, "UPDATE audit SET at_us = at_us + 1 WHERE id = 1" => 1,
      "UPDATE audit SET changes = '[ ]' WHERE id = 5" => 5, "DELETE FROM audit WHERE id = 2" => 3,
      "DELETE FROM audit WHERE id = 5" => 5, "DELETE FROM audit WHERE id = 1" => 2,
      "UPDATE audit SET digest = '#{'a' * 64}' WHERE id = 4" => 4, "DELETE FROM audit" => 1
    }.each do |sql, broken|
      Store::Database.raw.execute("SAVEPOINT before")
      Store::Database.rows(sql)
      assert_equal broken, Store::AuditTrail.verify.last, sql
      Store::Database.raw.execute("ROLLBACK TO before")
      Store::Database.raw.execute("RELEASE before")
    end
    assert_equal [5, nil], Store::AuditTrail.verify
  end

  def test_entries_of_many_at_once_stand_in_one_chain
    Array.new(4) do
      Thread.new do
        append(10) && ActiveRecord::Base.connection_handler.clear_active_connections!
      end
    end.each(&:join)
    assert_equal [40, nil], Store::AuditTrail.verify
  end

  def at(days) = Store::Clock.now_us - (days * 86_400_000_000)

  # What is older is taken out with a word about it; whoever takes more out by hand is found.
  def test_what_is_older_than_it_is_kept_is_taken_out_and_the_rest_still_verified
    long_ago = at(40)
    Store::Clock.stub(:now_us, long_ago) { append(3) }
    append(2)
    put_at("/api/settings", { "audit_days" => 30 })
    upkeep = Intake::Upkeep.new
    Intake::Upkeep::STEPS.size.times { upkeep.step }
    assert_equal(2, Store::AuditTrail.latest(100).count { |entry| entry.who == "x" })
    forgot = Store::AuditTrail.latest(1).first
    assert_equal ["(Northdrift)", "audit forget"], [forgot.who, forgot.action]
    assert_match(/\A3 \h{64}\z/, forgot.target)
    assert_equal [4, nil], Store::AuditTrail.verify
    Intake::Upkeep::STEPS.size.times { upkeep.step }
    assert_equal forgot.id, Store::AuditTrail.latest(1).first.id, "nothing more is old"
    assert_raises(SQLite3::ConstraintException) { Store::Database.rows("DELETE FROM audit") }
    Store::Database.rows("INSERT INTO audit_ends SELECT id, digest FROM audit WHERE id = 4")
    Store::Database.rows("DELETE FROM audit WHERE id <= 4")
    assert_equal [0, 5], Store::AuditTrail.verify
  end
end
