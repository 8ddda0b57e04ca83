# frozen_string_literal: true

require_relative "../test_helper"

# What changed before something broke, on incidents that nobody wrote (bench/cause has more of them).
class ChangesBeforeTest < Northdrift::StoreTest
  include Northdrift

  ROSTER = Fleet::Roster.read(File.read(File.join(ROOT, "demo/roster.csv")))

  def changes(incident)
    asked = question(%(host.name = #{incident.troubled} "does not answer"), from_us: micros(incident.at)).page.events[5]
    Store::ChangesBefore.new(at_us: asked.time_us, machine: asked.machine, pattern: asked.pattern)
  end

  def test_the_cause_is_among_the_first_three
    found = [1, 5, 9, 13].map do |seed|
      incident = Standins::MadeUpIncident.new(ROSTER, seed: seed, day: Time.utc(2026, 11, 20))
      Dir.mktmpdir do |dir|
        Store::Database.open(dir)
        import_text(incident.text, name: "#{seed}.log")
        Store::Fleet.keep(ROSTER)
        changes(incident).candidates.index do |one|
          one.happening.machine == incident.changed && (one.happening.time_us - micros(incident.at)).abs < 1_000_000
        end
      end
    end
    assert(found.all? { |place| place && place < 3 }, found.inspect)
    assert_operator found.count(0), :>=, 3
  end

  def test_it_says_what_it_cannot_know
    import_text("Nov 20 06:00:00 alder app: fine\nNov 20 08:00:00 alder app: error: broken\n")
    Store::Fleet.keep(Fleet::Roster.read("machine,needs\nalder,birch\n"))
    line = question("broken").page.events.first
    found = Store::ChangesBefore.new(at_us: line.time_us, machine: "alder", pattern: line.pattern)
    assert_equal ["line", line.time_us], [found.onset.of, found.onset.at_us]
    assert_empty found.candidates
    assert(found.unknown.any? { |words| words.include?("nothing was heard of birch") })
    assert(found.unknown.any? { |words| words.include?("no line ever told of a change on birch") })
    assert(
      Store::ChangesBefore
        .new(at_us: line.time_us, machine: "cedar")
        .unknown
        .any? { |words| words.include?("is not entered in the fleet's map") }
    )
    assert(Store::ChangesBefore.new(at_us: line.time_us).unknown.any? { |words| words.include?("no machine is named") })
  end

  def test_who_and_what_is_new_then
    import_text(<<~LOG)
      Nov 20 06:00:00 alder sudo: ida : TTY=pts/0 ; PWD=/root ; USER=root ; COMMAND=/usr/bin/vi /etc/app.conf
      Nov 20 07:50:00 alder sudo: eve : TTY=pts/0 ; PWD=/root ; USER=root ; COMMAND=/usr/bin/vi /etc/app.conf
      Nov 20 07:55:00 birch app: hello
      Nov 20 08:00:00 alder app: error: broken
    LOG
    line = question("broken").page.events.first
    found = Store::ChangesBefore.new(at_us: line.time_us, machine: "alder", pattern: line.pattern)
    assert_equal({ machines: %w[birch], persons: %w[eve] }, found.fresh)
    assert_equal(["eve edited /etc/app.conf"], found.candidates.first(1).map { |one| one.happening.says })
    assert_equal [1, 0], found.candidates.first.past.to_a
  end

  def test_the_line_that_is_asked_about_is_not_its_own_cause
    import_text("Nov 20 08:00:00 alder kernel: Kernel panic - not syncing: Fatal exception\n")
    line = question("panic").page.events.first
    assert_empty Store::ChangesBefore.new(
      at_us: line.time_us, machine: "alder", pattern: line.pattern, besides: line.id
    ).candidates
  end
end
