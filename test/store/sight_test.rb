# frozen_string_literal: true

require_relative "../test_helper"

# What a sight is, and that it holds wherever the database is asked.
class SightTest < Northdrift::StoreTest
  include Northdrift

  LINES = <<~LOG
    2026-11-22T06:00:00Z alder sshd[7]: Accepted password for ann from 10.0.0.1 port 4000 ssh2
    2026-11-22T06:00:01Z birch sshd[8]: Accepted password for bob from 10.0.0.2 port 4001 ssh2
    2026-11-22T06:00:02Z birch shop[9]: cannot reach alder: timeout
    2026-11-22T06:00:03Z alder shop[9]: all is well
  LOG

  def setup
    super
    import_text(LINES)
  end

  def within(find, &) = Store::Sight.within(find, &)

  def test_a_condition_on_where_lines_come_from_and_nothing_else
    [
      "host.name = alder", "host.name in (alder, birch) and not service.name = sshd", 'source = "test.log"',
      "has host.site", "host.tags ~ /old/", "(host.site = oslo or host.role = db)"
    ].each { |find| assert_equal find, Store::Sight.check(" #{find} ") }
    assert_nil Store::Sight.check(" ")
    ["error", "severity >= error", "user.name = ann", "host.name = a timeout", "message = x", "pattern = P1"]
      .each { |find| assert_raises(Store::Sight::Unfit, find) { Store::Sight.check(find) } }
    error = assert_raises(Store::Sight::Unfit) { Store::Sight.check("host.name = ") }
    refute_empty error.message
  end

  def test_who_sets_what_holds_for_all_sees_everything
    Store::Person.add("Ann", role: "responder", sight: "host.name = alder")
    assert_raises(Store::Sight::Unfit) { Store::Person.add("Bob", role: "operator", sight: "host.name = alder") }
    ann = Store::Person.named("Ann")
    assert_raises(Store::Sight::Unfit) { ann.take_role("administrator") }
    assert_equal ["responder", "host.name = alder"], [ann.reload.role, ann.sight]
    ann.take_sight("")
    ann.take_role("operator")
    assert_nil ann.reload.sight
  end

  def test_only_what_is_seen_is_there
    hidden = question("cannot").page.events.first
    within("host.name = alder") do
      assert_equal 2, found.size
      assert_equal [2, 2], [Store::Events.total, question.total]
      assert_nil Store::Events.find(hidden.id)
      assert_empty question("cannot").page.events
      assert_equal ["alder"], Store::Kinds.current.filter_map(&:machine).uniq
      assert_empty Store::StoredEvent.all([hidden.id])
    end
    assert_equal 4, found.size
  end

  # What was asked within one is not answered within another, nor outside.
  def test_a_question_stays_within_its_sight
    spec = within("host.name = alder") { question.spec }
    assert_raises(Northdrift::Error) { Store::Question.new(**spec) }
    assert_raises(Northdrift::Error) { within("host.name = birch") { Store::Question.new(**spec) } }
    within("host.name = alder") { assert_equal 2, Store::Question.new(**spec).total }
  end

  # A failure within leaves nothing behind, and one may stand within another.
  def test_it_ends_with_its_block
    assert_raises(ZeroDivisionError) { within("host.name = alder") { 1 / 0 } }
    within("host.name = alder") do
      within("host.name = birch") { assert_equal 1, found("cannot").size }
      assert_empty found("cannot")
      within(nil) { assert_equal 4, found.size }
    end
    assert_equal 4, Store::Events.total
  end

  # Whatever connection a thread takes: another, a new one, or the one that somebody else had.
  def test_it_holds_for_every_connection
    seen = within("host.name = alder") do
      ActiveRecord::Base.connection_handler.clear_active_connections!
      first = Store::Database.value("SELECT count(*) FROM events")
      ActiveRecord::Base.connection_handler.clear_all_connections!
      [first, Store::Database.value("SELECT count(*) FROM events")]
    end
    assert_equal [2, 2], seen
    threads = Array.new(8) do |at|
      Thread.new do
        find = [nil, "host.name = alder", "service.name = shop and host.name = birch"][at % 3]
        Array.new(20) do
          within(find) { Store::Database.value("SELECT count(*) FROM events") }.tap do
            ActiveRecord::Base.connection_handler.clear_active_connections!
          end
        end.uniq
      end
    end
    assert_equal [[4], [2], [1], [4], [2], [1], [4], [2]], threads.map(&:value)
  end

  def test_nothing_can_be_written_through_it
    within("host.name = alder") do
      error = assert_raises(SQLite3::SQLException) { Store::Database.rows("DELETE FROM events") }
      assert_match(/view/, error.message)
    end
  end

  # New machines, and machines of which something else is said, come into sight and go out of it.
  def test_it_follows_what_there_is
    find = "host.site = oslo"
    assert_equal 0, within(find) { question.total }
    say("alder,oslo")
    assert_equal 2, within(find) { question.total }
    import_text("2026-11-22T07:00:00Z cedar shop[9]: new here\n", name: "new.log")
    say("cedar,oslo\nalder,bergen")
    assert_equal(%w[cedar], within(find) { Store::Kinds.current.filter_map(&:machine).uniq })
    import_text("2026-11-22T07:00:01Z cedar shop[9]: something else\n", name: "more.log")
    assert_equal 2, within(find) { question.total }
  end

  def say(rows) = Store::Fleet.keep(Northdrift::Fleet::Roster.read("machine,site\n#{rows}\n"))

  # The processes that count along.
  def test_the_crew_counts_within_it
    crew = fork_crew
    find = "host.name = alder"
    counts = [nil, find, "host.name = birch", nil].map do |sight|
      within(sight) do
        job = Store::Crew::Job.new(question.spec, :sizes, [question.from_us, question.to_us], {})
        crew.work([job]) { |(lines, _), _| break lines }
      end
    end
    assert_equal [4, 2, 2, 4], counts
  end

  def fork_crew
    ActiveRecord::Base.connection_handler.clear_all_connections!
    Store::Crew.new(@data)
  end

  # Cases are seen by what is pinned to them.
  def test_cases
    mine, others, mixed = ["of alder", "of birch", "of both"].map { |title| a_case(title) }
    alder, birch = %w[well cannot].map { |word| question(word).page.events.first }
    { mine => [alder], others => [birch], mixed => [alder, birch] }.each do |one, events|
      events.each do |event|
        Store::Pin.create!(
          case_id: one.id, created_us: 1, note: "", **Store::Pin.of_line(event, Store::Source.find(event.source_id))
        )
      end
    end
    within("host.name = alder") do
      assert_equal ["of alder", "of both"], Store::Case.present.order(:id).map(&:title)
      assert_equal(1, Store::Case.find(mixed.id).pins.count)
      assert_raises(ActiveRecord::RecordNotFound) { Store::Case.find(others.id) }
      assert_empty Store::Case.search("cannot")
      a_case("opened by who sees alder")
    end
    within("host.name = birch") { assert_equal ["of birch", "of both"], Store::Case.order(:id).map(&:title) }
    assert_equal 4, Store::Case.count
  end

  def a_case(title) = Store::Case.create!(title: title, created_us: 1, changed_us: 1)
end
