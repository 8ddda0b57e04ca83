# frozen_string_literal: true

require_relative "../test_helper"

# What people say of machines, as fields of their lines: of those that came before, too.
class StoreFleetTest < Northdrift::StoreTest
  include Northdrift

  LINES = <<~LOG
    Nov 22 06:00:00 alder app: one
    Nov 22 06:00:01 birch app: two names alder
    Nov 22 06:00:02 cedar app: three
    Nov 22 06:00:03 birch app: four names alder
  LOG

  def say(text) = Store::Fleet.keep(Fleet::Roster.read(text))

  def setup
    super
    import_text(LINES)
  end

  def test_lines_that_were_there_carry_what_is_said_now
    assert_raises(Find::Mistake) { found("host.role = web") }
    say("machine,site,role,tags,needs,runs_on\nalder,north,web,hot;old,cedar,host-1\nbirch,north,db,hot,,\n")
    {
      "host.role = web" => %w[one], "host.tags = hot" => %w[one two four], "host.tags = old" => %w[one],
      "host.tags != old" => %w[two three four], "has host.site" => %w[one two four],
      "host.depends_on = cedar" => %w[one], "host.depends_on = host-1" => %w[one], "host.runs_on = host-1" => %w[one],
      "not host.site = north" => %w[three], "host.role ~ /^d/" => %w[two four],
      "host.site = north not host.role = web" => %w[two four]
    }.each do |find, words|
      assert_equal words, found(find).map { |line| line[/app: (\w+)/, 1] }, find
      matcher = Find::Matcher.new(Find::Parser.parse(find))
      assert_equal words,
                   question
                     .to_enum(:each)
                     .select { |event| matcher.match?(event.subject("test.log")) }
                     .map { |event| event.message[/\w+/] }, "#{find} by the matcher"
    end
    assert_equal "hot old", question("host.role = web").page.events.first.fields["host.tags"]
  end

  def test_what_is_said_anew_takes_the_place_of_what_was_said
    say("machine,role\nalder,web\n")
    say("machine,role\nalder,db\n")
    assert_equal [[], %w[one]], [found("host.role = web"), found("host.role = db").map { |line| line[/app: (\w+)/, 1] }]
    Store::Fleet.add([Fleet::Dependencies::Edge.new("alder", "birch", "needs")] * 2)
    assert_equal ["birch"], Store::Fleet.current.dependencies.below("alder")
    assert_equal 1, Store::Dependency.count
  end

  def test_values_are_counted_and_offered
    say("machine,tags\nalder,hot;old\nbirch,hot\n")
    table = Store::FieldTable.new(question).tap { |one| one.count { nil } }
    tags = table.rows.find { |field| field.name == "host.tags" }
    assert_equal({ "hot" => 3, "old" => 1 }, tags.values.to_h { |value| [value.value, value.events] })
    # Several values of a line are no reason to stumble where lines are set against others.
    assert(
      Store::FieldTable
        .new(question("one"))
        .tap { |one| one.count { nil } }
        .rows
        .any? { |field| field.name == "host.tags" && field.events == 1 }
    )
    assert_equal(%w[hot old], Store::Completions.values("host.tags", "").map { |one| one["text"] }.sort)
  end

  def test_who_names_whom = assert_equal({ %w[birch alder] => 2 }, Store::WhoNamesWhom.counts(nil, nil))

  def test_the_report_knows_machines_that_never_wrote
    say("machine,role\nspruce,spare\n")
    machines = Store::FleetReport.new(micros(Time.utc(2026, 11, 22, 6, 5))).machines
    assert_equal %w[alder birch cedar spruce], machines.map(&:name)
    spruce, alder = machines.values_at(3, 0)
    assert_equal [nil, 0, "spare"], [spruce.heard_us, spruce.strip.flatten.sum, spruce.said.role]
    assert_equal [micros(Time.utc(2026, 11, 22, 6)), 1], [alder.heard_us, alder.strip.flatten.sum]
  end

  def test_a_problem_ends_when_it_is_over
    import_text(<<~LOG, name: "more.log")
      Nov 22 06:10:00 alder systemd[1]: web.service: Failed with result 'exit-code'.
      Nov 22 06:11:00 birch systemd[1]: web.service: Failed with result 'exit-code'.
      Nov 22 06:12:00 birch systemd[1]: Started web.service - Web.
    LOG
    problems =
      Store::FleetReport
        .new(micros(Time.utc(2026, 11, 22, 6, 20)))
        .machines
        .to_h { |one| [one.name, one.problems.map { |problem| problem.happening.says }] }
    assert_equal({ "alder" => ["web.service failed: exit-code"], "birch" => [], "cedar" => [] }, problems)
  end
end
