# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"

# Routes of alerts, by HTTP, and the ways that run on this computer.
class AlertRoutesTest < Northdrift::AskingTest
  include Northdrift
  include Telling

  MAIL = { "name" => "On call", "kind" => "mail", "settings" => { "to" => ["a@tarnholm.example"] } }.freeze

  def made(values = MAIL) = post_to("/api/alert-routes", { "definition" => {} }.merge(values), "AlertRoute")

  def refused(values)
    told = post_to("/api/alert-routes", { "name" => "x" }.merge(values), "Problem")
    assert_equal 422, told["status"], told.inspect
    told.values_at("parameter", "detail")
  end

  def test_a_route_is_made_changed_removed_and_had_back
    id = made["id"]
    changed = patch_at("/api/alert-routes/#{id}", { "definition" => { "severity" => "critical" } }, "AlertRoute")
    assert_equal [{ "severity" => "critical" }, ["a@tarnholm.example"], true],
                 [changed["definition"], changed["settings"]["to"], changed["enabled"]]
    refute patch_at("/api/alert-routes/#{id}", { "enabled" => false }, "AlertRoute")["enabled"]
    remove("/api/alert-routes/#{id}", "AlertRoute")
    assert_empty ask("/api/alert-routes", "AlertRoutes")["routes"]
    post_to("/api/alert-routes/#{id}/restored", {}, "AlertRoute")
    assert_equal 1, ask("/api/alert-routes", "AlertRoutes")["routes"].size
  end

  # Those of a team who have an address, who may log in, and nobody twice.
  def test_people_and_teams_are_told_where_they_are_told
    people = %w[Ida Olav Berit Gone].map { |name| Store::Person.add(name, role: "responder") }
    people.reject { |one| one.name == "Berit" }.each { |one| one.take_mail("#{one.name.downcase}@tarnholm.example") }
    Store::Team.add("Night watch", people: Store::Person.all)
    Store::Person.named("Gone").disable
    given = Server::Sending::Form.check("mail", { "to" => "ida, Night watch; a@tarnholm.example b@tarnholm.example" })
    route = Store::AlertRoute.new(given: given)
    assert_equal %w[ida olav a b].map { |name| "#{name}@tarnholm.example" }, route.recipients
    Store::Person.find_each { |person| person.take_mail("") }
    assert_equal ["ida", "Night watch", "a@tarnholm.example", "b@tarnholm.example"], route.recipients
  end

  def test_what_will_not_do_is_told_at_its_setting
    Store::Team.add("Night")
    {
      { "kind" => "pigeon" } => ["kind", "mail, hook, syslog, trap, program"],
      { "kind" => "mail", "settings" => { "to" => ["nobody"] } } => ["to", "“nobody” is no mail address"],
      { "kind" => "mail", "settings" => { "to" => ["a@b.example\r\nBcc: c@d.example"] } } =>
        ["to", "is no mail address"],
      { "kind" => "mail" } => ["to", "say to whom"], { "kind" => "mail", "settings" => { "to" => "Night" } } =>
        ["to", "nobody of “Night” has a mail address yet"],
      { "kind" => "hook", "settings" => { "url" => "ftp://x" } } => %w[url address],
      { "kind" => "hook", "settings" => { "url" => "http://169.254.1.1/" } } => ["url", "an address inside"],
      { "kind" => "syslog", "settings" => { "host" => "127.0.0.1", "transport" => "sctp" } } => %w[transport udp],
      { "kind" => "trap", "settings" => { "host" => "127.0.0.1", "port" => "0" } } => %w[port 65535],
      { "kind" => "program", "settings" => { "program" => "x" } } => ["program", "no folder for programs is set"],
      MAIL.merge("definition" => { "wait" => "x" }) => %w[wait 15min]
    }.each do |values, (parameter, says)|
      told = refused({ "definition" => {} }.merge(values))
      assert_equal parameter, told.first
      assert_includes told.last, says
    end
    assert_equal 0, Store::AlertRoute.count
  end

  # It is somebody's, and goes nowhere else.
  def test_a_secret_is_kept_and_never_told
    id = made("name" => "Desk", "kind" => "hook",
              "settings" => { "url" => "http://127.0.0.1/in", "secret" => "salt and water" })["id"]
    ask("/api/alert-routes", "AlertRoutes")
    refute_includes last_response.body, "salt"
    refute_includes Store::AlertRoute.sole.settings, "salt"
    keep = { "settings" => { "url" => "http://127.0.0.1/in", "secret" => "" } }
    patch_at("/api/alert-routes/#{id}", keep, "AlertRoute")
    assert_equal "salt and water", Store::AlertRoute.sole.given["secret"]
    patch_at("/api/alert-routes/#{id}", { "settings" => { "url" => "http://127.0.0.2/in" } }, "AlertRoute")
    assert_empty Store::AlertRoute.sole.given["secret"].to_s
  end

  def test_a_message_is_shown_before_it_is_sent
    assert_equal 409, post_to("/api/alert-routes/preview", { "definition" => {} }, "Problem")["status"]
    raise_alert
    shown = post_to("/api/alert-routes/preview",
                    { "definition" => { "subject" => "{{ alerts[0].where }}!" }, "occasion" => "back" }, "AlertPreview")
    assert_equal "alder!", shown["subject"]
    assert_includes shown["text"], "BACK TO NORMAL Many refused"
    wrong = post_to("/api/alert-routes/preview", { "definition" => { "text" => "{% for %}" } }, "Problem")
    assert_equal [422, "text"], wrong.values_at("status", "parameter")
  end

  def test_a_test_goes_to_each_recipient
    id = made(MAIL.merge("settings" => { "to" => "a@tarnholm.example, b@tarnholm.example" }))["id"]
    assert_equal 409, post_to("/api/alert-routes/#{id}/tests", {}, "Problem")["status"]
    raise_alert
    post_to("/api/alert-routes/#{id}/tests", {}, "AlertRoute")
    told = ask("/api/deliveries", "Deliveries")
    assert_equal [2, 2, %w[test test]],
                 [told["total"], told["counts"]["waiting"], told["deliveries"].map { |one| one["occasion"] }]
    assert_equal 400, ask("/api/deliveries?state=lost", "Problem")["status"]
  end

  # What the other side answers decides.
  def test_a_hook_is_sent_until_it_is_taken
    server = TCPServer.new("127.0.0.1", 0)
    answers = ["500 Broken", "204 No Content"]
    asked = Thread.new { answers.map { |answer| take_hook(server.accept, answer) } }
    hook = Server::Sending::Outlets::Hook.new({ "url" => "http://127.0.0.1:#{server.addr[1]}/in" })
    message = Server::Sending::Contents.message("id-1", "raised", [raise_alert])
    refused = assert_raises(Error) { hook.send_off(message, nil, "") }
    assert_equal "the other side answered 500 Broken", refused.message
    hook.send_off(message, nil, "")
    heads = asked.value
    assert_equal ["POST /in HTTP/1.1"] * 2, heads.map(&:first)
    heads.each { |head| assert_includes head.map(&:downcase), 'idempotency-key: "id-1"' }
  ensure
    server&.close
  end

  # @return [Array<String>] the lines of its head
  def take_hook(socket, answer)
    head = []
    while (line = socket.gets&.chomp) && !line.empty?
      head << line
    end
    socket.read(head.join("\n")[/content-length: (\d+)/i, 1].to_i)
    socket.write("HTTP/1.1 #{answer}\r\nContent-Length: 0\r\nConnection: close\r\n\r\n")
    head
  ensure
    socket.close
  end

  # It gets the message on its standard input, and no more of its surroundings than a path.
  def test_a_program_of_this_computer_is_told
    folder = File.join(@dir, "programs")
    out = File.join(@dir, "told")
    program("good", folder, "cat > #{out}; env >> #{out}")
    program("bad", folder, "echo no paper; exit 3")
    write("programs/plain", "not to be run")
    with_settings("NORTHDRIFT_PROGRAMS" => folder) do
      assert_equal %w[bad good plain], ask("/api/alert-routes")["programs"]
      %w[plain ../good absent].each do |name|
        assert_equal "program", refused("kind" => "program", "definition" => {}, "settings" => { "program" => name })[0]
      end
      message = Server::Sending::Contents.message("id-1", "raised", [raise_alert])
      Server::Sending::Outlets::Program.new("program" => "good").send_off(message, nil, "")
      json, *surroundings = File.read(out).split("\n")
      assert_equal "Many refused", Oj.load(json[/\A\{.*\}/])["alerts"][0]["name"]
      refute(surroundings.any? { |line| line.start_with?("NORTHDRIFT") })
      bad = assert_raises(Error) { Server::Sending::Outlets::Program.new("program" => "bad").send_off(message, nil, "") }
      assert_equal "bad ended with 3: no paper", bad.message.strip
    end
  end

  def program(name, folder, text)
    path = write(File.join(File.basename(folder), name), "#!/bin/sh\n#{text}\n")
    File.chmod(0o755, path)
  end
end
