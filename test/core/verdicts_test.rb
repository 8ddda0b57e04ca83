# frozen_string_literal: true

require_relative "../test_helper"

# Why machines started: the demo's six restarts from their lines alone, and the same with evidence taken away or in disorder.
class VerdictsTest < Minitest::Test
  include Northdrift

  Told = Struct.new(:time_us, :rule, :machine, :fields, :says)
  NOW = Time.utc(2026, 11, 24, 12)
  REASONS = { "tix-app-2" => "scheduled", "mail-1" => "host", "tix-db-2" => "host", "gate-tar-1" => "panic", "hall-kiosk-3" => "power", "dc-01" => "update", "tix-db-1" => "inside" }.freeze

  # Happenings of the demo's incidents, without its everyday lines.
  HAPPENINGS = begin
    world = Demo::World.new(now: NOW)
    Demo::Incidents.new(world).write
    context = Reading::Context.new(clock: Reading::Clock.new(reference_us: NOW.to_i * 1_000_000))
    files = world.instance_variable_get(:@lines).transform_values { |lines| lines.sort_by(&:first).map(&:last).join("\n") }
    files.flat_map do |_, text|
      events = []
      records = Reading::Records.new(context) { |event| events << event }
      records.push("#{text}\n".b)
      records.finish
      events.filter_map { |event| (one = Logbook::Catalogue.shipped.read(event, "x")) && Told.new(event.time_us, one.rule, one.machine, one.fields, one.says) }
    end
  end

  def verdicts(happenings = HAPPENINGS) = Logbook::Verdicts.new(happenings).all.to_h { |verdict| [verdict.machine.downcase, verdict] }

  def reasons(happenings = HAPPENINGS) = verdicts(happenings).transform_values(&:reason)

  def without(*rules) = HAPPENINGS.reject { |one| rules.include?(one.rule) }

  def test_six_restarts_have_their_six_reasons
    assert_equal REASONS, reasons
    assert(verdicts.values.all? { |verdict| verdict.evidence.any? && verdict.look.empty? })
  end

  # What must come of it: right, or unknown; never another reason.
  VARIANTS = {
    "no word of the upgrade" => [%w[people.packages-upgraded], "tix-app-2"], "no word of the panic" => [%w[linux.panic], "gate-tar-1"], "no word of the host" => [%w[network.guest-stopped], "mail-1"],
    "the recovery alone is known" => [%w[network.guest-stopped linux.machine-check], "tix-db-2"], "no unexpected shutdown" => [%w[windows.6008], "hall-kiosk-3"], "no power event" => [%w[windows.41 windows.6008], "hall-kiosk-3"],
    "nobody asked for it" => [%w[windows.1074], "dc-01"], "no sudo" => [%w[people.restart-by-hand people.sudo], "tix-db-1"], "no watchdog" => [%w[linux.watchdog-reset], "gate-tar-1"],
    "nothing but starts" => [Logbook::Verdicts.rules - Logbook::Verdicts::RULES["starts"], "tix-app-2"]
  }.freeze

  VARIANTS.each do |what, (rules, machine)|
    define_method("test_#{what.tr(' ', '_')}_is_right_or_unknown") do
      found = verdicts(without(*rules))
      verdict = found[machine]
      # Without its only start it is no restart that anybody could know of.
      next assert_equal("no watchdog", what) if verdict.nil?

      assert_includes [REASONS[machine], "unknown", ("watchdog" if machine == "gate-tar-1")].compact, verdict.reason
      refute_empty verdict.look if verdict.reason == "unknown"
      (found.keys - [machine]).each { |other| assert_includes [REASONS[other], "unknown"], found[other].reason, other unless rules.size > 3 }
    end
  end

  def test_the_order_of_lines_does_not_matter = assert_equal(REASONS, reasons(HAPPENINGS.shuffle(random: Random.new(3))))

  def test_what_lies_long_before_is_no_evidence
    moved = HAPPENINGS.map { |one| one.rule == "people.packages-upgraded" ? one.dup.tap { |copy| copy.time_us -= 7_200_000_000 } : one }
    assert_equal "unknown", reasons(moved)["tix-app-2"]
  end

  def test_two_reasons_that_weigh_alike_are_no_answer
    start = Told.new(10_000_000_000, "linux.kernel-boot", "alder", {}, "")
    both = [start, Told.new(9_990_000_000, "people.packages-upgraded", "alder", {}, ""), Told.new(9_991_000_000, "people.restart-by-hand", "alder", {}, "")]
    assert_equal "unknown", verdicts(both)["alder"].reason
    assert_equal 2, verdicts(both)["alder"].evidence.size
  end
end
