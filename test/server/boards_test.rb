# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"

# Boards, and what their cards show, by HTTP.
class BoardsTest < Northdrift::AskingTest
  include Northdrift

  LINES = Array.new(20) do |at|
    host = at % 4 == 3 ? "birch" : "alder"
    severity = at % 5 == 4 ? 11 : 14
    "<#{severity}>1 2026-11-22T06:#{format('%02d', at)}:00Z #{host} shop 1 - - took duration_ms=#{at * 10}\n"
  end.join
  COUNT = { "id" => "count", "title" => "Errors", "drawing" => "number", "query" => "find=severity+>%3D+error" }.freeze
  LINE = {
    "id" => "line", "title" => "By machine", "drawing" => "line", "query" => "measure=count+by+host.name",
    "place" => { "x" => 6, "y" => 0, "w" => 6, "h" => 8 }
  }.freeze
  BOARD = { "title" => "Shop", "cards" => [COUNT, LINE] }.freeze

  def setup
    super
    import_text(LINES)
  end

  def made(definition = BOARD, **further)
    post_to("/api/boards", { "definition" => definition }.merge(further.transform_keys(&:to_s)), "Board")
  end

  # @return [Hash{String=>Hash}] answers or problems, by card
  def answers(cards, definition: {}, **window)
    board = { "title" => "x", "cards" => cards }.merge(definition.transform_keys(&:to_s))
    post("/api/boards/answers", JSON.generate({ "definition" => board }.merge(window)),
         HOST.merge(@headers || {}, "CONTENT_TYPE" => "application/json"))
    assert_predicate last_response, :ok?, last_response.body
    parts = last_response.body.lines.map { |line| JSON.parse(line) }
    parts.each { |part| assert DOCUMENT.schema("BoardPart").valid?(part), part.inspect }
    assert_operator parts.pop["milliseconds"], :>=, 0
    @parts = parts.size
    parts.flat_map { |part| part["cards"].map { |id| [id, part["answer"] || part["problem"]] } }.to_h
  end

  # @return [Hash{String=>Hash}] what is measured, with the time of the card; or the problem
  def measured(...)
    answers(...).transform_values do |told|
      told["measurement"] ? told["measurement"].merge(told.slice("from_us", "to_us")) : told
    end
  end

  def test_a_board_is_made_and_changed_and_deleted
    board = made
    shown = board["definition"]
    assert_equal ["Shop", "last 24 hours"], shown.values_at("title", "window")
    assert_equal(%w[count line], shown["cards"].map { |one| one["id"] })
    assert_equal({ "x" => 0, "y" => 0, "w" => 6, "h" => 6 }, shown["cards"].first["place"])
    path = "/api/boards/#{board['id']}"
    changed = patch_at(path, { "definition" => BOARD.merge("title" => "Shops"), "changed_us" => board["changed_us"] },
                       "Board")
    assert_equal "Shops", changed["definition"]["title"]
    late = patch_at(path, { "definition" => BOARD, "changed_us" => board["changed_us"] })
    assert_equal [409, "Shops"], [late["status"], ask(path, "Board")["definition"]["title"]]
    # Of two at once one is told.
    changes = %w[One Two].map do |title|
      shown = Northdrift::Boards::Board.new(BOARD.merge("title" => title))
      Store::Database.step { Store::Board.find(board["id"]).change(shown, 5, since: changed["changed_us"]) }
    end
    assert_equal [true, false], changes
    changed = patch_at(path, { "definition" => BOARD.merge("title" => "Shops") }, "Board")
    made(BOARD.merge("title" => "ferries"))
    listed = ask("/api/boards", "Boards")
    assert_equal([["ferries", 2], ["Shops", 2]], listed["boards"].map { |one| one.values_at("title", "cards") })
    assert_includes listed["drawings"], { "name" => "share", "title" => "share of the whole", "asks" => "measurement" }
    assert remove(path, "Board")["deleted"]
    assert_equal 404, ask(path)["status"]
    refute post_to("#{path}/restored", {}, "Board")["deleted"]
    assert_equal changed["definition"], ask(path, "Board")["definition"]
  end

  def test_cards_show_what_their_questions_come_to
    cards = [
      COUNT, LINE, LINE.merge("id" => "same"),
      LINE.merge("id" => "slowest", "drawing" => "table", "query" => "measure=max(duration_ms)+by+host.name"),
      LINE.merge("id" => "chips", "drawing" => "number", "query" => "find=took&chip=host.name+%3D+birch&hide=error"),
      { "id" => "note", "drawing" => "text", "text" => "**Halls** open at six." }
    ]
    told = measured(cards)
    assert_equal [4, %w[count line same slowest chips].sort], [@parts, told.keys.sort], "equal ones are counted once"
    assert_equal 4, told["count"]["whole"]["value"]
    assert_equal question("severity >= error").total, told["count"]["total"]
    assert_equal([["alder", 15], ["birch", 5]], told["line"]["groups"].map { |one| [*one["by"], one["value"]] })
    steps = told["line"]["groups"].first["steps"]
    assert_equal [15, told["line"]], [steps.sum(&:last), told["same"]]
    # Seconds, and no steps in a table.
    assert_equal([[0.18, []], [0.19, []]], told["slowest"]["groups"].map { |one| one.values_at("value", "steps") }.sort)
    assert_equal question("host.name = birch not severity = error").total, told["chips"]["total"]
  end

  def test_a_window_and_a_scope_for_all
    from_us = Time.utc(2026, 11, 22, 6, 10).to_i * 1_000_000
    told = measured([COUNT, LINE], definition: { find: "host.name = alder" }, from_us: from_us,
                                   to_us: from_us + 300_000_000)
    wanted = question("host.name = alder", from_us: from_us, to_us: from_us + 300_000_000)
    assert_equal [wanted.total, from_us], told["line"].values_at("total", "from_us")
    Store::Scope.create!(name: "birches", find: "host.name = birch", changed_us: 1)
    told = measured([LINE.merge("query" => "scope=birches&measure=count")])
    assert_equal 5, told["line"]["total"]
  end

  # What somebody sees who is limited is what there is of it.
  def test_a_board_of_who_sees_a_part
    Store::Person.add("Ann", role: "administrator")
    secret = Store::Token.make("x", role: "viewer", days: 1, sight: "host.name = birch").last
    @headers = { "HTTP_AUTHORIZATION" => "Bearer #{secret}" }
    told = measured([COUNT, LINE, LINE.merge("id" => "narrow", "query" => "find=host.name+%3D+alder")])
    assert_equal question("host.name = birch severity >= error").total, told["count"]["whole"]["value"]
    assert_equal([["birch"]], told["line"]["groups"].map { |one| one["by"] })
    assert_equal 0, told["narrow"]["total"]
    headers = HOST.merge(@headers, "CONTENT_TYPE" => "application/json")
    post("/api/boards", JSON.generate("definition" => BOARD), headers)
    assert_equal 403, last_response.status, "a viewer makes none"
  end

  # Cards of each kind tell what the pages of that kind tell of the same question.
  def test_cards_of_every_kind
    import_text("<13>1 2026-11-22T06:21:00Z alder kernel - - - Linux version 6.1.0-27-amd64\n")
    kinds = %w[patterns words rail lanes logbook alerts availability map]
    told = answers(kinds.map { |kind| { "id" => kind, "drawing" => kind, "query" => "chip=host.name+%3D+alder" } })
    total = question("host.name = alder").total
    chip = { "chip" => ["host.name = alder"] }
    assert_equal kinds.sort, told.keys.sort
    assert_equal(total, told["patterns"]["patterns"]["rows"].sum { |row| row["count"] })
    words = told["words"]["words"]["rows"].to_h { |row| row.values_at("word", "count") }
    assert_equal question("took host.name = alder").total, words["took"]
    assert_equal(total, told["rail"]["histogram"]["series"].sum { |one| one["total"] })
    lanes = told["lanes"]["histogram"]
    assert_equal ["host.name", [["alder", total]]],
                 [lanes["field"], lanes["series"].map { |one| one.values_at("name", "total") }]
    assert_equal ask("/api/logbook?#{Rack::Utils.build_nested_query(chip.merge('least' => 'notice'))}")["happenings"],
                 told["logbook"]["logbook"]["entries"]
    refute_empty told["logbook"]["logbook"]["entries"]
    assert_equal(["alder"], told["availability"]["availability"]["groups"].flat_map { |one| one["machines"] })
    assert_equal ask("/api/fleet/map", "FleetMap"), told["map"]["map"]
    assert_equal [], told["alerts"]["alerts"]["alerts"]
  end

  def test_a_card_of_alerts
    raised = { "a" => "alder", "b" => "oak" }.map do |key, machine|
      wanted = { "name" => "Disk #{key}", "severity" => "error", "machine" => machine }
      put_at("/api/outside-alerts/#{key}", wanted)["id"]
    end
    post_to("/api/alerts/actions", { "action" => "close", "ids" => [raised[1]] })
    card = { "id" => "alerts", "drawing" => "alerts" }
    cards = [card, card.merge("id" => "closed", "query" => "state=closed"),
             card.merge("id" => "birch", "query" => "find=host.name+%3D+birch"),
             card.merge("id" => "unfit", "query" => "state=dead")]
    told = answers(cards)
    names = told.except("unfit").transform_values { |one| one["alerts"]["alerts"].map { |alert| alert["name"] } }
    assert_equal({ "alerts" => ["Disk a"], "closed" => ["Disk b"], "birch" => [] }, names)
    assert_match(/no state “dead”/, told["unfit"]["detail"])
  end

  # What it is compared with is told by the same steps and the same groups.
  def test_beside_what_it_is_compared_with
    before = LINES.gsub("2026-11-22", "2026-11-21").lines.first(12).join
    import_text(before)
    day = 86_400_000_000
    from_us = Time.utc(2026, 11, 22, 6).to_i * 1_000_000
    told = measured([LINE, COUNT.merge("query" => "")], definition: { compared: "day" }, from_us: from_us,
                                                        to_us: from_us + 1_200_000_000)
    beside = told["line"]["before"]
    assert_equal [12, from_us - day], [beside["whole"]["value"], beside["from_us"]]
    assert_equal([[["alder"], 9], [["birch"], 3]], beside["groups"].map { |one| one.values_at("by", "value") })
    assert_equal told["line"]["whole"]["steps"].first(12), beside["whole"]["steps"]
    assert_nil measured([LINE], definition: { compared: "day" }, compared: "")["line"]["before"]
    assert_match(/cannot be compared/, measured([LINE], definition: { compared: "alder = (" })["line"]["detail"])
  end

  def test_variables_and_a_time_of_its_own
    variables = [{ "name" => "machine", "field" => "host.name", "value" => "birch" }]
    assert_equal 5, measured([LINE], definition: { variables: variables })["line"]["total"]
    assert_equal 15,
                 measured([LINE], definition: { variables: variables }, values: { machine: "alder" })["line"]["total"]
    assert_equal 20, measured([LINE], definition: { variables: variables }, values: { machine: "" })["line"]["total"]
    own = LINE.merge("window" => "2026-11-22 06:00 - 06:05")
    assert_equal 5, measured([own])["line"]["total"]
    assert_equal 5, measured([own.merge("window" => "2026-11-22 07:00 - 07:05")], zone: "Europe/Oslo")["line"]["total"]
    assert_match(/some time/, measured([own.merge("window" => "some time")])["line"]["detail"])
  end

  # A level that changes half way is told, with where and how sure.
  def test_since_when_the_level_is_another
    text = Array.new(40) do |at|
      Array.new(at < 24 ? 2 : 9) do |n|
        "<14>1 2026-11-23T06:#{format('%02d', at)}:#{10 + n}Z elm shop 1 - - more\n"
      end.join
    end.join
    import_text(text)
    from_us = Time.utc(2026, 11, 23, 6).to_i * 1_000_000
    card = COUNT.merge("query" => "find=more&measure=count+per+minute")
    told = measured([card], from_us: from_us, to_us: from_us + 2_400_000_000)["count"]
    trend = told["trend"]
    assert_equal [(24 * 2) + (16 * 9), from_us + (24 * 60_000_000), 2, 9],
                 [told["whole"]["value"], *trend.values_at("at_us", "before", "after")]
    assert_operator trend["p"], :<, 0.001
  end

  def test_a_board_is_what_it_was_before_a_change
    board = made
    path = "/api/boards/#{board['id']}"
    patch_at(path, { "definition" => BOARD.merge("title" => "Worse", "cards" => []) }, "Board")
    versions = ask("#{path}/versions", "BoardVersions")["versions"]
    assert_equal([["Shop", 2]], versions.map { |one| one.values_at("title", "cards") })
    back = post_to("#{path}/versions/#{versions.first['id']}/restored", {}, "Board")
    assert_equal board["definition"], back["definition"]
    assert_equal(%w[Worse Shop], ask("#{path}/versions")["versions"].map { |one| one["title"] })
    assert_equal 404, post_to("#{path}/versions/999/restored", {})["status"]
  end

  # They light up by what there is; what asks for fields that no line has is left out.
  def test_boards_to_start_with
    starters = ask("/api/boards/starters", "BoardStarters")["starters"].to_h { |one| [one["name"], one] }
    assert_equal({ "servers" => true, "windows" => false, "web" => false, "intake" => true },
                 starters.transform_values { |one| one["any"] }.slice("servers", "windows", "web", "intake"))
    assert_equal [], starters["web"]["definition"]["cards"]
    told = answers(starters["servers"]["definition"]["cards"])
    assert_empty(told.values.filter_map { |one| one["detail"] })
    import_text(%(127.0.0.1 - - [22/Nov/2026:06:00:00 +0000] "GET /tickets HTTP/1.1" 503 12 "-" "curl"\n))
    web = ask("/api/boards/starters")["starters"].find { |one| one["name"] == "web" }
    assert web["any"]
    told = measured(web["definition"]["cards"])
    assert_equal([1, "/tickets"], [told["c1"]["whole"]["value"], told["c3"]["groups"].first["by"].first])
    made(web["definition"])
  end

  def test_favourites_come_first
    made({ "title" => "Alder" })
    board = made
    path = "/api/boards/#{board['id']}/favourite"
    assert put_at(path, {}, "Board")["favourite"]
    assert put_at(path, {}, "Board")["favourite"], "twice is once"
    assert_equal(%w[Shop Alder], ask("/api/boards", "Boards")["boards"].map { |one| one["title"] })
    refute remove(path, "Board")["favourite"]
    assert_equal(%w[Alder Shop], ask("/api/boards", "Boards")["boards"].map { |one| one["title"] })
  end

  # The others show what they have to show.
  def test_a_card_that_cannot_be_asked_says_why
    unfit = { "find" => "find=host.name+%3D+(", "measure" => "measure=most", "scope" => "scope=gone", "query" => "%",
              "bytes" => "find=%FF", "nul" => "find=a%00b", "chip" => "chip=%3D",
              "steps" => "measure=count+per+0.01+s" }
    told = measured([COUNT, *unfit.map { |id, query| LINE.merge("id" => id, "query" => query) }])
    assert_equal 4, told["count"]["whole"]["value"]
    problems = told.except("count").transform_values { |problem| problem["detail"] }
    assert_equal unfit.keys.sort, problems.keys.sort
    assert_match(/too many steps/, problems["steps"])
    assert_match(/measured as what/, problems["measure"])
    assert_match(/no scope “gone”/, problems["scope"])
  end

  def test_what_is_no_board_is_told_at_its_part
    {
      {} => "title", { "title" => " " } => "title", { "title" => "x", "cards" => {} } => "cards",
      { "title" => "x", "cards" => [COUNT, COUNT] } => "cards", { "title" => "x", "colour" => "red" } => "colour",
      { "title" => "x", "cards" => [COUNT.merge("id" => "a b")] } => "id",
      { "title" => "x", "cards" => [COUNT.merge("drawing" => "tea")] } => "drawing",
      { "title" => "x", "cards" => [COUNT.merge("place" => { "x" => 12 })] } => "place",
      { "title" => "x", "cards" => [COUNT.merge("place" => { "z" => 1 })] } => "place",
      { "title" => "x", "tags" => "x" } => "tags", { "title" => "x", "tags" => [1] } => "tags"
    }.each do |definition, part|
      assert_equal [422, part], made(definition).values_at("status", "parameter"), definition.inspect
    end
    assert_equal 422, made({ "title" => "x", "find" => "host.name = (" })["status"]
    assert_equal [400, "definition"], post_to("/api/boards", {}).values_at("status", "parameter")
    unfit = post_to("/api/boards/answers", { "definition" => BOARD, "from_us" => "x" })
    assert_equal [400, "from_us"], unfit.values_at("status", "parameter")
    assert_equal 0, Store::Board.count
  end
end
