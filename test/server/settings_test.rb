# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"

# What is set for all of it, by HTTP.
class SettingsTest < Northdrift::AskingTest
  include Northdrift
  include Telling

  def teardown
    FileUtils.rm_f(Store::MachineSettings.path)
    super
  end

  def entry(name) = ask("/api/settings", "Settings")["entries"].find { |one| one["name"] == name }

  def test_what_is_set_holds_and_what_is_left_out_is_as_shipped
    assert_equal({ "idle_hours" => 12, "login_days" => 7, "audit_days" => nil, "normal_days" => 7 },
                 ask("/api/settings")["settings"])
    told = put_at("/api/settings", { "idle_hours" => 2, "audit_days" => 400 })
    assert_equal({ "idle_hours" => 2, "login_days" => 7, "audit_days" => 400, "normal_days" => 7 }, told["settings"])
    change = Store::AuditTrail.latest(1).first.changed.first
    assert_equal ["settings", 2], [change["what"], change.dig("after", "value", "idle_hours")]
    [{ "idle_hours" => 0 }, { "login_days" => 366 }, { "audit_days" => "x" }, { "idle_hours" => 1.5 }].each do |bad|
      put_at("/api/settings", bad)
      assert_equal [400, bad.keys.first], [last_response.status, JSON.parse(last_response.body)["parameter"]]
    end
    assert_equal 400, Store::PageSettings.current.audit_days
  end

  def test_a_login_ends_as_it_is_set
    person = Store::Person.add("Ann", role: "viewer", password: "zither-lantern-plum")
    hour = Store::Session::HOUR_US
    now = Store::Clock.now_us
    { "idle" => [now - (3 * hour), now - (3 * hour)], "old" => [now, now - (49 * hour)], "new" => [now, now] }
      .each do |id, (seen, created)|
        Store::Session.create!(id: id, person_id: person.id, seen_us: seen, created_us: created)
      end
    assert_equal %w[idle new old], Store::Session.live.ids.sort
    Store::PageSettings.new(idle_hours: 2, login_days: 2, audit_days: nil, normal_days: 7).save
    assert_equal %w[new], Store::Session.live.ids
    assert_equal([nil, nil, "new"], %w[idle old new].map { |id| Store::Session.of(id)&.id })
  end

  def test_what_the_file_and_the_environment_say_is_told_without_secrets
    File.write(Store::MachineSettings.path, "proxies: [10.0.0.2]\nlogin_secret: very-secret-9\n")
    assert_equal [["10.0.0.2"], "file"], entry("proxies").values_at("value", "from")
    with_settings("NORTHDRIFT_FORWARD" => "10.0.0.9, collector.internal") do
      assert_equal [["10.0.0.9", "collector.internal"], "environment"], entry("forward").values_at("value", "from")
    end
    assert_equal [[], "default"], entry("commands").values_at("value", "from")
    assert_equal ["•••"], entry("login_secret")["value"]
    refute_includes last_response.body, "very-secret"
    File.write(Store::MachineSettings.path, "folow: [/srv]\n")
    assert_match(/there is no setting “folow”/, ask("/api/settings", "Settings")["problem"])
  end
end
