# frozen_string_literal: true

require_relative "../test_helper"
require "json_schemer"
require "rack/test"

# The logbook by HTTP, on lines that were read in different ways.
class LogbookApiTest < Northdrift::StoreTest
  include Northdrift
  include Rack::Test::Methods

  DOCUMENT = JSONSchemer.openapi(JSON.parse(File.read(File.join(ROOT, "docs/openapi.json"))))
  LINES = <<~LOG
    Nov 21 06:14:26 alder kernel: Out of memory: Killed process 2217 (bookingd) total-vm:5120312kB
    Nov 21 06:14:27 alder systemd[1]: bookingd.service: Failed with result 'oom-kill'.
    Nov 21 06:14:28 alder app: nothing of note
    Nov 22 02:14:09 birch sudo: sigrid : TTY=pts/0 ; PWD=/home/sigrid ; USER=root ; COMMAND=/sbin/reboot
  LOG

  def app = @app ||= Server::App.build(@data)

  def logbook(query = "")
    get("/api/logbook#{query}", {}, { "HTTP_HOST" => "127.0.0.1:4280" })
    JSON
      .parse(last_response.body)
      .tap { |body| assert_empty DOCUMENT.schema(last_response.ok? ? "LogbookPage" : "Problem").validate(body).to_a }
  end

  def told(page) = page["happenings"].map { |one| one.values_at("kind", "machine", "says") }

  STORY = [
    ["memory-kill", "alder", "bookingd (process 2217) was killed for want of memory"],
    ["service-failure", "alder", "bookingd.service failed: oom-kill"],
    ["machine-restart", "birch", "sigrid ordered: reboot"]
  ].freeze

  def test_happenings_are_read_as_lines_come_in
    import_text(LINES)
    page = logbook
    assert_equal [STORY, 3, [2, 1]], [told(page), page["total"], page["days"].map { |day| day["severities"].sum }]
    assert_equal 1, page["kinds"].find { |kind| kind["kind"] == "memory-kill" }["count"]
    line = question("oom-kill").page.events.first
    assert_equal line.id.to_s, page["happenings"][1]["id"]
  end

  # Of whatever else a question asks: entries are those of the machines that its lines may be of.
  def test_they_are_those_of_a_questions_machines
    import_text(LINES)
    {
      "host.name = birch" => STORY.last(1), "host.name in (alder, nobody)" => STORY.first(2),
      "not host.name = alder" => STORY.last(1), "memory host.name = alder" => STORY.first(2), "memory" => STORY,
      "host.name = nobody" => [], "host.name = alder host.name = birch" => []
    }.each do |find, story|
      assert_equal story, told(logbook("?#{Rack::Utils.build_query(find: find)}")), find
      assert_equal story, told(logbook("?#{Rack::Utils.build_query('chip[]' => find)}")), find
    end
    logbook("?#{Rack::Utils.build_query(find: 'host.name = (')}")
    assert_equal 422, last_response.status
  end

  # More names than a statement of SQL may have values (SQLite, SQLITE_MAX_VARIABLE_NUMBER: 32,766).
  def test_a_fleet_of_many_names
    import_text(LINES)
    Store::Database.rows(
      "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 33000) " \
      "INSERT INTO kinds (machine, service, reader, layout, traits, key) SELECT 'm' || i, NULL, 'plain', '[]', " \
      "'{}', 'k' || i FROM n"
    )
    assert_equal STORY.last(1), told(logbook("?#{Rack::Utils.build_query(find: 'host.name != alder')}"))
  end

  def test_they_are_narrowed
    import_text(LINES)
    assert_equal STORY.last(1), told(logbook("?kind=machine-restart"))
    assert_equal STORY.first(2), told(logbook("?machine=alder"))
    assert_equal STORY[1, 1], told(logbook("?text=OOM-"))
    assert_empty told(logbook("?text=100%25"))
    assert_equal STORY.last(1), told(logbook("?from=#{Time.utc(2026, 11, 22).to_i * 1_000_000}"))
    assert_equal([STORY.last(1), 3], logbook("?limit=1").then { |page| [told(page), page["total"]] })
    assert_equal STORY.values_at(0), told(logbook("?least=critical"))
    assert_equal [400, 400], [logbook("?kind=weather")["status"], logbook("?least=awful")["status"]]
  end

  def test_a_restart_has_its_reason_with_evidence_and_how_long_it_was_away
    import_text(
      "#{LINES}Nov 22 02:15:09 birch kernel: Linux version 6.1.0-29 (build@x) booting\nNov 22 07:00:00 alder kernel: " \
      "Linux version 6.1.0-29 (build@x) booting\n"
    )
    get("/api/restarts", {}, { "HTTP_HOST" => "127.0.0.1:4280" })
    body = JSON.parse(last_response.body)
    assert_empty DOCUMENT.schema("Restarts").validate(body).to_a
    birch, alder = body["restarts"]
    assert_equal ["birch", "inside", "likely", ["sigrid ordered: reboot"], 60_000_000],
                 [
                   *birch.values_at("machine", "reason", "confidence"), birch["evidence"].map { |one| one["says"] },
                   birch["start_us"] - birch["last_heard_us"]
                 ]
    assert_equal ["unknown", "none", []], alder.values_at("reason", "confidence", "evidence")
    refute_empty alder["look"]
  end

  # New rules are applied to the past; what is taken out or put away takes its happenings with it.
  def test_the_past_is_read_again_and_forgotten_with_its_lines
    import_text(LINES)
    refute_nil Store::Setting.get(Store::Past::VERSION)
    Store::Setting.set(Store::Past::VERSION, "of other rules")
    Store::Database.rows("DELETE FROM happenings")
    upkeep = Intake::Upkeep.new
    assert_equal [true, true], [upkeep.step, upkeep.step]
    assert_equal STORY, told(logbook)
    Store::Forgetting.new(Store::Keeping.new(days: 0, archive: true)).run(Time.utc(2027).to_i * 1_000_000)
    assert_empty told(logbook)
    Store::Archive.find_each { |archive| archive.update!(state: "coming") && Store::Returning.new(archive).bring_back }
    assert_equal STORY, told(logbook)
    Store::Removal.remove(Store::Source.ids)
    assert_empty told(logbook)
  end
end
