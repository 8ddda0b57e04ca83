# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"

# Another system raises alerts here and closes them.
class OutsideAlertsTest < Northdrift::AskingTest
  include Northdrift
  include Telling

  PUMP = { "name" => "Pump 4 is hot", "severity" => "critical", "machine" => "pump-4",
           "says" => "92 °C at the bearing" }.freeze

  def tell_of(key, **wanted)
    put_at("/api/outside-alerts/#{key}", PUMP.merge(wanted.transform_keys(&:to_s)), "AlertDetail")
  end

  def over(key, remedy = "") = remove("/api/outside-alerts/#{key}?remedy=#{remedy}", "AlertDetail")
  def at(seconds, &) = Store::Clock.stub(:now_us, START + (seconds * SECOND), &)
  def did = Store::AlertStep.order(:id).map(&:what)

  def test_what_is_said_twice_is_so_once
    alert = at(0) { tell_of("scada-17") }
    assert_equal 201, last_response.status
    assert_equal ["Pump 4 is hot", 2, "pump-4", "open", "raised from outside", ["92 °C at the bearing"]],
                 alert.values_at("name", "severity", "machine", "state", "condition", "told")
    assert_equal alert["id"], at(60) { tell_of("scada-17") }["id"]
    assert_equal [200, ["raised"]], [last_response.status, did]
    at(120) { tell_of("scada-18") }
    assert_equal 2, Store::Alert.count
  end

  def test_it_is_closed_once_and_comes_again
    at(0) { tell_of("scada-17") }
    closed = at(60) { over("scada-17", "oiled") }
    assert_equal %w[closed oiled], closed.values_at("state", "remedy")
    at(70) { over("scada-17") }
    assert_equal %w[raised close], did
    # Within ten minutes it is the same trouble, later another, of which it is known what helped.
    again = at(300) { tell_of("scada-17") }
    assert_equal [closed["id"], "open", true], again.values_at("id", "state", "reopened")
    at(400) { over("scada-17", "oiled") }
    other = at(4000) { tell_of("scada-17") }
    refute_equal closed["id"], other["id"]
    assert_equal(["oiled"], other["seen_before"].map { |one| one["remedy"] })
    over("nobody-knows")
    assert_equal 404, last_response.status
  end

  # Who raised it says when it is over; and when it is worse.
  def test_it_stands_until_it_is_over
    at(0) { tell_of("scada-17", severity: "warning") }
    Store::Database.step { Store::Alert.settle(START + (90_000 * SECOND)) }
    assert_nil Store::Alert.sole.calm_us
    assert_equal 2, at(90_001) { tell_of("scada-17") }["severity"]
    assert_equal %w[raised worse], did
  end

  def test_people_are_told_and_it_is_folded_like_the_others
    on_call = route
    with_settings("NORTHDRIFT_MAIL_SERVER" => (server = MailServer.new).place) do
      Store::Clock.stub(:now_us, clock.call) { tell_of("scada-17") }
      tell(on_call)
    end
    assert_match(/Pump 4 is hot/, server.taken.first.last)
  ensure
    server&.stop
  end

  def test_bad_requests_say_what
    assert_match(/name is one line/, tell_of("a", name: "")["detail"])
    assert_match(/there is no severity “bad”/, tell_of("a", severity: "bad")["detail"])
    assert_match(/a key is one line of 200/, tell_of("a" * 201)["detail"])
    rule = { definition: { name: "x", when: { outside: {} } }, enabled: true }
    assert_match(/needs no rule/, post_to("/api/alert-rules", rule)["detail"])
    assert_equal 0, Store::Alert.count
  end
end
