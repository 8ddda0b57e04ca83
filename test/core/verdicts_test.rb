# frozen_string_literal: true

require_relative "../test_helper"

# Why machines started: the demo's six restarts from their lines alone, and the same with evidence taken away or in
# disorder.
class VerdictsTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  Told = Struct.new(:time_us, :rule, :kind, :machine, :service, :fields, :says, :person)
  WORLD_NOW = Time.utc(2026, 11, 24, 12)
  REASONS = {
    "tix-app-2" => "scheduled", "mail-1" => "host", "tix-db-2" => "host", "gate-tar-1" => "panic",
    "hall-kiosk-3" => "power", "dc-01" => "update", "tix-db-1" => "inside"
  }.freeze
  HOSTS = {
    "tix-app-1" => "hv-1", "tix-db-1" => "hv-1", "dns-1" => "hv-1", "tix-app-2" => "hv-2", "tix-db-2" => "hv-2",
    "mail-1" => "hv-2"
  }.freeze

  def self.told(text)
    context = Reading::Context.new(clock: Reading::Clock.new(reference_us: WORLD_NOW.to_i * 1_000_000))
    events = []
    records = Reading::Records.new(context) { |event| events << event }
    records.push("#{text}\n".b)
    records.finish
    events.filter_map do |event|
      (one = Logbook::Catalogue.shipped.read(event, "x")) &&
        Told.new(event.time_us, one.rule, one.kind, one.machine, one.service, one.fields, one.says, one.person)
    end
  end

  # Happenings of the demo's incidents, without its everyday lines.
  HAPPENINGS = begin
    world = Demo::World.new(now: WORLD_NOW)
    Demo::Incidents.new(world).write
    files =
      world.instance_variable_get(:@lines).transform_values { |lines| lines.sort_by(&:first).map(&:last).join("\n") }
    files.flat_map { |_, text| told(text) }
  end

  def verdicts(happenings = HAPPENINGS, hosts: HOSTS, gathered: true)
    Logbook::Verdicts.new(happenings, hosts: hosts, gathered: ->(*) { gathered })
  end

  def machines(...) = verdicts(...).machines.to_h { |verdict| [verdict.machine.downcase, verdict] }

  def reasons(...) = machines(...).transform_values(&:reason)

  def without(*rules) = HAPPENINGS.reject { |one| rules.include?(one.rule) }

  def shifted(machine, seconds)
    HAPPENINGS.map { |one| one.machine == machine ? one.dup.tap { |copy| copy.time_us += seconds * 1_000_000 } : one }
  end

  def test_six_restarts_have_their_six_reasons
    assert_equal REASONS, reasons
    assert(
      machines.values.all? { |verdict| verdict.evidence.any? && verdict.look.empty? && verdict.confidence != "none" }
    )
    assert_equal "sigrid", machines["tix-db-1"].person
    assert_equal ["the audit trail of hv-1 was gathered at the time and has no word of it"],
                 machines["tix-db-1"].missing
  end

  def test_what_the_map_and_the_audit_trail_are_not_known_for_is_not_said
    assert_equal REASONS, reasons(hosts: {})
    assert_empty machines(hosts: {})["tix-db-1"].missing
    assert_empty machines(gathered: false)["tix-db-1"].missing
  end

  # Evidence removed, clocks off, lines in another order: what comes of the machine it is about.
  VARIANTS = {
    "no word of the upgrade" => ["tix-app-2", -> { without("packages.upgraded-by-plan") }],
    "nobody asked for the scheduled restart" => ["tix-app-2", -> { without("linux.reboot-asked") }],
    "no word of the panic" => ["gate-tar-1", -> { without("kernel.panic") }],
    "no word of the host" => ["mail-1", -> { without("virtualisation.guests-stopped") }],
    "the recovery alone is known" => [
      "tix-db-2", -> { without("virtualisation.guests-stopped", "kernel.machine-check") }
    ], "no recovery" => ["mail-1", -> { without("virtualisation.start") }],
    "no unexpected shutdown" => ["hall-kiosk-3", -> { without("windows.6008") }],
    "no power event" => ["hall-kiosk-3", -> { without("windows.41", "windows.6008") }],
    "nobody asked for the update" => ["dc-01", -> { without("windows.1074") }],
    "no sudo" => ["tix-db-1", -> { without("privilege.restart-by-hand", "privilege.sudo") }],
    "no orderly end" => ["tix-db-1", -> { without("linux.reboot-asked") }],
    "neither sudo nor an orderly end" => [
      "tix-db-1", -> { without("linux.reboot-asked", "privilege.restart-by-hand") }
    ], "the host's clock four minutes ahead" => ["mail-1", -> { shifted("hv-2", 240) }],
    "the host's clock four minutes behind" => ["tix-db-2", -> { shifted("hv-2", -240) }],
    "lines in another order" => ["gate-tar-1", -> { HAPPENINGS.shuffle(random: Random.new(3)) }],
    "another machine's panic at the same time" => [
      "tix-db-1",
      lambda do
        HAPPENINGS +
          [
            HAPPENINGS
              .find { |one| one.rule == "kernel.panic" }
              .dup
              .tap { |copy| copy.time_us = Time.utc(2026, 11, 17, 2, 14, 40).to_i * 1_000_000 }
          ]
      end
    ],
    "the upgrade long before" => [
      "tix-app-2",
      lambda do
        HAPPENINGS.map do |one|
          one.rule == "packages.upgraded-by-plan" ? one.dup.tap { |copy| copy.time_us -= 7_200_000_000 } : one
        end
      end
    ]
  }.freeze

  # Its own line says that the watchdog reset it; why it had to is what is missing.
  ALSO_RIGHT = { "no word of the panic" => %w[watchdog] }.freeze

  def outcome(name)
    machine, make = VARIANTS.fetch(name)
    found = machines(instance_exec(&make))[machine]
    return "unknown" if found.nil? || found.reason == "unknown"

    [REASONS[machine], *ALSO_RIGHT[name]].include?(found.reason) ? "right" : "wrong (#{found.reason})"
  end

  VARIANTS.each_key do |name|
    define_method("test_#{name.tr(' ', '_')}_is_right_or_unknown") { assert_includes %w[right unknown], outcome(name) }
  end

  def test_the_table_of_variants
    table = VARIANTS.keys.to_h { |name| [name, outcome(name)] }
    puts(
      "", *table.map { |name, came| format("restart verdict, %-45s %s", name, came) },
      "restart verdicts: #{table.values.tally}"
    )
    assert_operator table.values.count("right"), :>=, 6
  end

  def test_an_unknown_reason_says_where_to_look_next
    verdict = machines(without("windows.41", "windows.6008"))["hall-kiosk-3"]
    assert_equal "unknown", verdict.reason
    assert_includes verdict.look.map(&:machine), "hall-kiosk-3"
    host =
      machines(without("linux.reboot-asked", "privilege.restart-by-hand"))["tix-db-1"].look.find do |look|
        look.says.include?("audit trail")
      end
    assert_equal "hv-1", host.machine
    assert(host.find.then { |find| Find::Parser.parse(find) })
  end

  def test_two_reasons_that_weigh_alike_are_no_answer
    start = Told.new(10_000_000_000, "kernel.boot", "machine-start", "alder", nil, {}, "")
    both = [
      start, Told.new(9_990_000_000, "packages.upgraded-by-plan", "package", "alder", nil, {}, ""),
      Told.new(9_991_000_000, "privilege.restart-by-hand", "machine-restart", "alder", nil, {}, "")
    ]
    verdict = machines(both)["alder"]
    assert_equal ["unknown", 2, 2], [verdict.reason, verdict.evidence.size, verdict.weighed.size]
  end

  def test_a_stop_error_is_no_power_loss
    lines = VerdictsTest.told(<<~XML)
      <Event xmlns="http://schemas.microsoft.com/win/2004/08/events/event"><System><Provider Name="Microsoft-Windows-Kernel-Power"/><EventID>41</EventID><Level>1</Level><TimeCreated SystemTime="2026-11-21T09:12:40Z"/><Computer>birch</Computer></System><EventData><Data Name="BugcheckCode">159</Data></EventData></Event>
      <Event xmlns="http://schemas.microsoft.com/win/2004/08/events/event"><System><Provider Name="EventLog"/><EventID>6008</EventID><Level>2</Level><TimeCreated SystemTime="2026-11-21T09:12:48Z"/><Computer>birch</Computer></System><EventData/></Event>
      <Event xmlns="http://schemas.microsoft.com/win/2004/08/events/event"><System><Provider Name="EventLog"/><EventID>6005</EventID><Level>4</Level><TimeCreated SystemTime="2026-11-21T09:12:49Z"/><Computer>birch</Computer></System><EventData/></Event>
    XML
    assert_equal "panic", machines(lines)["birch"].reason
  end

  # A service of the demo, and others as their servers' sources have them.
  def test_services_have_reasons_too
    stall = verdicts.services.find { |verdict| verdict.machine == "tix-app-1" }
    assert_equal %w[bookingd memory sure], [stall.service, stall.reason, stall.confidence]
    by_hand = VerdictsTest.told(<<~LOG)
      Nov 22 02:14:09 alder sudo: sigrid : TTY=pts/0 ; PWD=/home/sigrid ; USER=root ; COMMAND=/usr/bin/systemctl restart queue.service
      Nov 22 02:14:09 alder systemd[1]: Stopped queue.service - Queue.
      Nov 22 02:14:10 alder systemd[1]: Started queue.service - Queue.
      Nov 22 03:00:00 alder kernel: queued[31]: segfault at 0 ip 000055d0c1a2b3c4 sp 00007ffd1c2d3e4f error 4 in queued[55d0c1a00000+4d000]
      Nov 22 03:00:00 alder systemd[1]: queued.service: Main process exited, code=dumped, status=11/SEGV
      Nov 22 03:00:00 alder systemd[1]: queued.service: Failed with result 'core-dump'.
      Nov 22 03:00:05 alder systemd[1]: Started queued.service - Other queue.
      Nov 22 04:00:00 alder systemd[1]: Stopped still.service - Nobody says why.
      Nov 22 04:00:02 alder systemd[1]: Started still.service - Nobody says why.
      Nov 22 05:00:02 alder systemd[1]: Started fresh.service - Never ended before.
    LOG
    found = verdicts(by_hand).services.to_h { |verdict| [verdict.service, [verdict.reason, verdict.person]] }
    assert_equal({ "queue" => %w[person sigrid], "queued" => ["failure", nil], "still" => ["unknown", nil] }, found)
  end

  # By what systemd and the daemons write: which of their lines are starts after an end, to the second.
  {
    "a crash that systemd answers, and again" => [<<~LOG, %w[q@02:00:05 q@02:01:05]],
      Nov 22 02:00:00 alder systemd[1]: q.service: Main process exited, code=exited, status=1/FAILURE
      Nov 22 02:00:00 alder systemd[1]: q.service: Failed with result 'exit-code'.
      Nov 22 02:00:05 alder systemd[1]: q.service: Scheduled restart job, restart counter is at 1.
      Nov 22 02:00:05 alder systemd[1]: Stopped q.service - Queue.
      Nov 22 02:00:06 alder systemd[1]: Started q.service - Queue.
      Nov 22 02:01:00 alder systemd[1]: q.service: Main process exited, code=exited, status=1/FAILURE
      Nov 22 02:01:00 alder systemd[1]: q.service: Failed with result 'exit-code'.
      Nov 22 02:01:05 alder systemd[1]: q.service: Scheduled restart job, restart counter is at 2.
      Nov 22 02:01:05 alder systemd[1]: Stopped q.service - Queue.
      Nov 22 02:01:06 alder systemd[1]: Started q.service - Queue.
    LOG
    "one that was killed and tells nothing of it" => [<<~LOG, %w[mosquitto@02:00:40]],
      Nov 22 02:00:00 alder mosquitto[7]: mosquitto version 2.0.11 running
      Nov 22 02:00:40 alder mosquitto[9]: mosquitto version 2.0.11 running
    LOG
    "an end behind its start within the same second" => [<<~LOG, []],
      Nov 22 02:00:00 alder mosquitto[7]: mosquitto version 2.0.11 running
      Nov 22 02:00:00 alder mosquitto[7]: mosquitto version 2.0.11 terminating
    LOG
    "workers for a new configuration, then for a new server" => [<<~LOG, %w[nginx@02:02:00]]
      2026/11/22 02:00:00 [notice] 7#7: start worker processes
      2026/11/22 02:01:00 [notice] 7#7: reconfiguring
      2026/11/22 02:01:00 [notice] 7#7: start worker processes
      2026/11/22 02:02:00 [notice] 9#9: start worker processes
    LOG
  }.each do |name, (lines, starts)|
    define_method("test_#{name.delete(',').tr(' ', '_')}") do
      told = VerdictsTest.told(lines).each { |one| one.machine ||= "alder" }
      found = verdicts(told).services.map { |one| "#{one.service}@#{clock(one.start.time_us)}" }
      assert_equal starts, found
    end
  end

  def clock(time_us) = Time.at(0, time_us, :microsecond, in: "UTC").strftime("%T")
end
