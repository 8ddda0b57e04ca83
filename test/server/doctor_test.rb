# frozen_string_literal: true

require_relative "../test_helper"

# What is wrong with a data folder is found, and said with what helps.
class DoctorTest < Northdrift::StoreTest
  include Northdrift

  def setup
    super
    import_text("Nov 22 06:00:00 alder app: one\n")
    Store::Person.add("Olav", role: "administrator", password: "zither-lantern-plum")
    Store::AuditTrail.append(
      who: "x", address: nil, action: "y", target: "", outcome: 0, changes: []
    )
  end

  # What the faults of this test leave unsound is not looked at again.
  def assert_sound = nil

  def findings(**options) = Server::Doctor.new(@data, **options).findings
  def of(check) = findings.find { |one| one.check == check }

  def assert_wrong(check, says)
    one = of(check)
    assert_equal ["wrong", true], [one.level, one.says.include?(says)], one.says
    others = findings.reject { |other| other.check == check }
    assert_equal [], others.select { |other| other.level == "wrong" }.map(&:check)
  end

  def test_nothing_is_wrong
    [false, true].each do |thorough|
      assert_equal ["ok"], findings(thorough: thorough).map(&:level).uniq
    end
    assert_equal Server::Doctor::CHECKS.keys, findings.map(&:check)
  end

  def test_others_can_look_into_the_folder
    File.chmod(0o755, @data)
    assert_wrong "folder", "others on this computer"
  end

  def test_settings_that_are_unknown
    File.write(File.join(@data, "settings.yml"), "folow: []\n")
    assert_wrong "settings", "folow"
  end

  def test_counts_that_are_off
    Store::Database.rows("UPDATE kind_counts SET n = n + 1")
    assert_wrong "counts", "kind_counts"
  end

  def test_an_entry_of_the_audit_trail_that_was_changed
    Store::Database.rows("DROP TRIGGER audit_update")
    Store::Database.rows("UPDATE audit SET who = 'z'")
    assert_wrong "audit trail", "entry 1"
  end

  def test_an_archive_that_is_gone
    Store::Archive.create!(
      day: "2026-11-01", file: "2026-11-01.ndjson.gz", state: "away", bytes: 5, lines: 1, created_us: 1, changed_us: 1
    )
    assert_wrong "archives", "2026-11-01"
  end

  def test_another_key
    Store::Person.sole.update!(factor_sealed: Store::Secret.seal("x"))
    File.binwrite(File.join(@data, "secrets.key"), "y" * 32)
    assert_wrong "secrets", "Olav"
  end

  def test_nobody_who_can_log_in
    Store::Person.sole.update!(password_digest: nil)
    assert_wrong "people", "no administrator"
  end

  def test_data_of_a_newer_program
    Store::Database.rows("INSERT INTO schema_migrations VALUES ('999')")
    assert_wrong "versions", "form 999"
  end

  def test_a_database_that_is_none
    ActiveRecord::Base.connection_handler.clear_all_connections!
    File.binwrite(File.join(@data, "northdrift.db"), "x" * 100_000)
    assert_equal(["wrong"], findings.map(&:level))
  end

  # Lines of tomorrow, and a listener that nobody keeps.
  def test_what_may_be_so
    import_text("2026-12-24T06:00:00Z alder app: later\n", name: "later.log")
    Store::Feed.create!(
      name: "syslog", kind: "tcp", paused: false, created_us: 1, settings: '{"address":"127.0.0.1","port":1}'
    )
    assert_equal %w[clock sources], findings.select { |one| one.level == "note" }.map(&:check)
    assert_includes of("clock").says, "1 lines are from later"
  end
end
