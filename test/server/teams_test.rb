# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"

# Groups of people, by HTTP: what they share, and what they see.
class TeamsTest < Northdrift::AskingTest
  include Northdrift

  PASSWORD = "zither-lantern-plum"
  JSON_TYPE = { "CONTENT_TYPE" => "application/json" }.freeze
  SITES = %w[alder birch cedar].freeze

  def setup
    super
    SITES.each { |name| import_text("Nov 22 06:00:00 #{name} app: one\n", name: "#{name}.log") }
    { "Ada" => "administrator", "Ola" => "operator", "Rut" => "responder", "Vic" => "viewer" }.each do |name, role|
      Store::Person.add(name, role: role, password: PASSWORD)
    end
    log_in("Ada")
  end

  def send_to(method, path, object = nil)
    request(path, HOST.merge(JSON_TYPE, method: method, input: object ? JSON.generate(object) : ""))
    last_response.status
  end

  def log_in(name)
    clear_cookies
    assert_equal 200, send_to("POST", "/api/session", { name: name, password: PASSWORD })
  end

  def told = JSON.parse(last_response.body)
  def person(name) = Store::Person.named(name)

  # @return [Integer] id
  def team(name, *people, sight: "")
    given = { name: name, sight: sight, people: people.map { |one| person(one).id } }
    assert_equal 201, send_to("POST", "/api/teams", given), last_response.body
    told["teams"].find { |one| one["name"] == name }["id"]
  end

  def sees(name)
    log_in(name)
    send_to("GET", "/api/status")
    told["machines"]
  end

  def test_what_a_team_saves_is_seen_and_changed_by_its_members
    id = team("Network", "Rut", "Vic")
    log_in("Rut")
    assert_equal [{ "id" => id, "name" => "Network" }], told["teams"]
    saved = { name: "mine", query: "find=x" }
    assert_equal 201, send_to("POST", "/api/searches", saved)
    assert_equal 201, send_to("POST", "/api/searches", saved.merge(team: id))
    assert_equal 409, send_to("POST", "/api/searches", saved.merge(team: id))
    assert_equal 200, send_to("POST", "/api/searches", saved.merge(team: id, query: "find=y", overwrite: true))
    own = told
    assert_equal({ "id" => id, "name" => "Network" }, own["team"])
    assert_equal [["Ada", 2], ["Ola", 1], ["Rut", 2], ["Vic", 2]],
                 (%w[Ada Ola Rut Vic].map do |name|
                   log_in(name)
                   send_to("GET", "/api/searches")
                   [name, told["searches"].size]
                 end)
    log_in("Ola")
    assert_equal 404, send_to("DELETE", "/api/searches/#{own['id']}")
    assert_equal 400, send_to("POST", "/api/searches", saved.merge(team: id))
    log_in("Ada")
    assert_equal 422, send_to("DELETE", "/api/teams/#{id}")
    assert_equal "Network owns 1 saved questions; delete them first", told["detail"]
    assert_equal 200, send_to("DELETE", "/api/searches/#{own['id']}")
    assert_equal 200, send_to("DELETE", "/api/teams/#{id}")
    assert_empty Store::Membership.all
  end

  def test_members_see_what_any_of_their_limited_teams_does_within_their_own_limit
    one = team("One", "Rut", "Vic", "Ola", sight: "host.name = alder")
    two = team("Two", "Rut", sight: "host.name in (birch, cedar)")
    team("Three", "Rut", "Vic")
    assert_equal [SITES, %w[alder], SITES], [sees("Rut"), sees("Vic"), sees("Ola")], "operators see everything"
    person("Rut").take_sight("not host.name = birch")
    assert_equal %w[alder cedar], sees("Rut")
    log_in("Ada")
    send_to("PATCH", "/api/teams/#{one}", { people: [person("Vic").id] })
    assert_equal %w[cedar], sees("Rut")
    log_in("Ada")
    send_to("PATCH", "/api/teams/#{two}", { sight: "host.name = birch" })
    assert_equal [], sees("Rut")
    log_in("Ada")
    send_to("DELETE", "/api/teams/#{two}")
    assert_equal %w[alder cedar], sees("Rut")
    person("Ola").take_role("viewer")
    assert_equal SITES, sees("Ola")
  end

  # One that a role had lifted holds again.
  def test_the_limit_of_a_team_holds_as_soon_as_the_role_allows_one
    team("One", "Ola", sight: "host.name = alder")
    assert_equal SITES, sees("Ola")
    person("Ola").take_role("responder")
    assert_equal %w[alder], sees("Ola")
    log_in("Ada")
    send_to("GET", "/api/people")
    ola = told["people"].find { |one| one["name"] == "Ola" }
    assert_equal [nil, "host.name = alder", ["One"]], ola.values_at("own_sight", "sight", "teams")
  end

  def test_bad_teams_are_refused_and_the_audit_trail_tells_of_good_ones
    id = team("Network", "Rut")
    bad = [{ name: "network" }, { name: " " }, { name: "x" * 81 }, { name: "a\nb" }, { name: "y", sight: "error" }]
    bad.each do |one|
      assert_equal 422, send_to("POST", "/api/teams", one), one.inspect
    end
    [[0], "Rut", [{}]].each { |people| assert_equal 400, send_to("PATCH", "/api/teams/#{id}", { people: people }) }
    assert_equal ["Network"], Store::Team.pluck(:name)
    send_to("PATCH", "/api/teams/#{id}", { people: [person("Vic").id], sight: "host.name = alder" })
    changes = Store::AuditTrail.latest(1).first.changed
    assert_includes changes, { "what" => "members of Network", "id" => id,
                               "before" => { "people" => "Rut" }, "after" => { "people" => "Vic" } }
    assert_equal "host.name = alder", changes.find { |one| one["what"] == "people" }.dig("after", "sight")
  end

  # By what Rut grants, who else sees a board and, being no viewer, changes it. Ada may everything.
  GRANTS = {
    "nobody" => [], "everyone" => %w[Ola Vic], "role:operator" => %w[Ola], "role:viewer" => %w[Ola Vic],
    "person:Vic" => %w[Vic], "team" => %w[Ola Vic], "person:Ola" => %w[Ola]
  }.freeze
  MAKERS = %w[Ada Rut].freeze

  # @return [Hash{Array(String, String)=>Integer}] ids of boards, by what is granted to whom
  def granted_boards(team)
    GRANTS.keys.product(%w[read edit]).to_h do |grant, way|
      whom = { "nobody" => [], "team" => ["team:#{team}"] }.fetch(grant, [grant])
      access = { "read" => [], "edit" => [] }.merge(way => whom)
      definition = { title: "#{grant} #{way}" }
      assert_equal 201, send_to("POST", "/api/boards", { definition: definition, access: access }), last_response.body
      [[grant, way], told["id"]]
    end
  end

  # Each way to a board, for each role.
  def test_who_sees_and_changes_a_board
    team = team("Halls", "Ola", "Vic")
    log_in("Rut")
    boards = granted_boards(team)
    %w[Rut Ada Ola Vic].each do |name|
      log_in(name)
      own = MAKERS.include?(name)
      readable = boards.select { |(grant, _), _| own || GRANTS[grant].include?(name) }
      send_to("GET", "/api/boards")
      assert_equal readable.keys.map { |grant, way| "#{grant} #{way}" }.sort,
                   told["boards"].map { |one| one["title"] }.sort, name
      boards.each do |(grant, way), id|
        seen = readable.key?([grant, way])
        changes = name != "Vic" && (own || (way == "edit" && seen))
        assert_equal expected_of(name, seen, changes), ways_to(id), "#{name}, #{grant} #{way}"
      end
    end
  end

  # What a board's addresses answer.
  def ways_to(id)
    path = "/api/boards/#{id}"
    [
      send_to("GET", path), send_to("GET", "#{path}/versions"), send_to("PUT", "#{path}/favourite"),
      send_to("PATCH", path, { definition: { title: told_title(path) } }), send_to("DELETE", path),
      send_to("POST", "#{path}/restored")
    ]
  end

  def told_title(path) = send_to("GET", path) == 200 ? told["definition"]["title"] : "x"

  def expected_of(name, seen, changes)
    return [404, 404, 404, *([name == "Vic" ? 403 : 404] * 3)] unless seen

    [200, 200, 200, *([changes ? 200 : 403] * 3)]
  end

  # Who may change a board does not thereby say who else may.
  def test_access_is_given_by_who_made_the_board
    log_in("Rut")
    send_to("POST", "/api/boards", { definition: { title: "Mine" } })
    path = "/api/boards/#{told['id']}"
    assert_includes told["grants"].map { |one| one["grant"] }, "person:Vic"
    log_in("Ola")
    send_to("GET", path)
    assert_equal [true, []], told.values_at("editable", "grants")
    assert_equal 403, send_to("PATCH", path, { access: { read: ["everyone"], edit: ["person:Ola"] } })
    log_in("Rut")
    assert_equal 422, send_to("PATCH", path, { access: { read: ["somebody"], edit: [] } })
    assert_equal "access", told["parameter"]
    assert_equal 200, send_to("PATCH", path, { access: { read: ["person:Vic"], edit: [] } })
    assert_equal "Mine", told["definition"]["title"]
    log_in("Ola")
    assert_equal 404, send_to("GET", path)
  end
end
