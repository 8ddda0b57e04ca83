# frozen_string_literal: true

require_relative "../test_helper"
require "json_schemer"
require "mail"

# Who is told of alerts, when, and how often, whatever becomes of the messages on their way.
class SendingMessagesTest < Northdrift::StoreTest
  include Northdrift
  include Telling

  def setup
    super
    @server = MailServer.new
    ENV["NORTHDRIFT_MAIL_SERVER"] = @server.place
    import_text((0..2).map { |n| "<11>1 2026-11-22T06:01:2#{n}Z alder app 1 - - refused #{n}\n" }.join)
  end

  def teardown
    ENV.delete("NORTHDRIFT_MAIL_SERVER")
    @server.stop
    super
  end

  def mails = @server.taken.map { |_, data| Mail.read_from_string(data) }

  def subjects = mails.map(&:subject)

  def test_an_alert_is_told_once
    on_call = route
    raise_alert
    3.times { tell(on_call) }
    assert_equal ["error: Many refused, alder"], subjects
    assert_equal [%w[raised sent]], told
    assert_equal [["oncall@tarnholm.example"]], @server.taken.map(&:first)
  end

  # What comes of one trouble is told in one.
  def test_alerts_that_come_together_are_told_together
    on_call = route
    raise_alert("alder")
    plan
    later(4)
    raise_alert("birch")
    tell(on_call)
    assert_equal ["error: Many refused, alder and 1 more"], subjects
    assert_equal 2, told.count(%w[raised sent])
  end

  def test_each_recipient_is_told_and_one_that_is_not_reached_holds_nobody_up
    on_call = route("mail", { "to" => %w[ida@tarnholm.example olav@tarnholm.example] })
    raise_alert
    tell(on_call)
    assert_equal [["ida@tarnholm.example"], ["olav@tarnholm.example"]], @server.taken.map(&:first).sort
  end

  %i[refuse die].each do |manner|
    define_method(:"test_a_server_that_would_#{manner}_is_told_once_when_it_is_well") do
      on_call = route
      raise_alert
      @server.manner = manner
      tell(on_call)
      delivery = Store::AlertDelivery.sole
      assert_equal ["waiting", 1], [delivery.state, delivery.attempts]
      refute_empty delivery.problem
      courier(on_call).step # it is not due yet
      assert_equal 1, @server.asked
      @server.manner = :take
      later(6)
      courier(on_call).step
      later(60)
      courier(on_call).step
      assert_equal 1, @server.taken.size
      assert_equal ["sent", nil], delivery.reload.attributes.values_at("state", "problem")
    end
  end

  def test_a_server_that_is_down_is_told_once_when_it_is_back
    on_call = route
    raise_alert
    port = @server.port
    @server.stop
    4.times { tell(on_call, after: 60) }
    delivery = Store::AlertDelivery.sole
    assert_operator delivery.attempts, :>, 1
    assert_match(/refused/i, delivery.problem)
    @server = MailServer.new
    refute_equal port, @server.port
    ENV["NORTHDRIFT_MAIL_SERVER"] = @server.place
    tell(on_call, after: 900)
    tell(on_call, after: 900)
    assert_equal 1, @server.taken.size
  end

  # It has the message and does not say so: when it comes again, it is known by its name.
  def test_a_message_that_comes_again_has_the_same_name
    on_call = route
    raise_alert
    @server.manner = :die_late
    tell(on_call)
    @server.manner = :take
    tell(on_call, after: 60)
    assert_equal 2, mails.size
    assert_equal 1, mails.map(&:message_id).uniq.size
  end

  def test_given_up_after_two_days
    on_call = route
    raise_alert
    @server.manner = :refuse
    tell(on_call)
    later(2 * 86_400)
    courier(on_call).step
    assert_equal [["raised", "given up"]], told
  end

  def test_only_what_nobody_has_taken
    late = route("mail", { "to" => ["ida@tarnholm.example"] }, wait: "15min")
    raise_alert("alder")
    taken = raise_alert("birch")
    tell(late, after: 600)
    assert_empty @server.taken
    taken.act("take", who: "Olav", now_us: clock.call, state: "taken", taken_by: "Olav")
    tell(late, after: 400)
    assert_equal ["Nobody has taken it: Many refused, alder"], subjects
    assert_equal [%w[left sent], ["left", "not needed"]], told
  end

  def test_what_comes_in_an_hour_is_told_together
    digest = route("mail", { "to" => ["ida@tarnholm.example"] }, digest: "1h")
    %w[alder birch cedar].each do |machine|
      raise_alert(machine)
      tell(digest, after: 600)
    end
    assert_empty @server.taken
    tell(digest, after: 1900)
    assert_equal ["error: Many refused, alder and 2 more"], subjects
  end

  def test_no_more_than_so_many_an_hour_and_the_rest_together
    few = route("mail", { "to" => ["ida@tarnholm.example"] }, most: 2)
    %w[alder birch cedar elder].each do |machine|
      raise_alert(machine)
      tell(few, after: 60)
    end
    assert_equal 2, @server.taken.size
    assert_equal 2, Store::AlertDelivery.waiting.where("problem LIKE 'held back%'").count
    tell(few, after: 3600)
    assert_equal "error: Many refused, cedar and 1 more", subjects.last
    assert_equal 3, @server.taken.size
  end

  # A hundred that are held back of one, and one of another.
  def test_nobody_waits_for_what_is_held_back_of_others
    few = route("mail", { "to" => %w[ida@tarnholm.example] }, most: 1)
    raise_alert("alder")
    tell(few)
    planned = { route_id: few.id, occasion: "raised", due_us: clock.call, created_us: clock.call }
    alert = raise_alert("birch")
    courier = Server::Sending::Courier
    (1..courier::MOST).each do |step|
      Store::AlertDelivery.plan(**planned, recipient: "ida@tarnholm.example", alert_id: alert.id, step_id: 1000 + step)
    end
    Store::AlertDelivery.plan(**planned, recipient: "olav@tarnholm.example", alert_id: alert.id, step_id: 2000)
    2.times { courier(few).step }
    assert_equal [["ida@tarnholm.example"], ["olav@tarnholm.example"]], @server.taken.map(&:first)
    later(3700)
    courier(few).step
    assert_equal 3, @server.taken.size
  end

  def test_back_to_normal_goes_to_who_was_told
    on_call = route("mail", { "to" => ["oncall@tarnholm.example"] }, back: true)
    raise_alert
    tell(on_call)
    later(200)
    Store::Database.step { Store::Alert.settle(clock.call) }
    tell(on_call)
    Store::Alert.sole.act("close", who: "Ida", now_us: clock.call, state: "closed", closed_us: clock.call)
    tell(on_call)
    assert_equal ["error: Many refused, alder", "Back to normal: Many refused, alder"], subjects
  end

  # Neither what it was nor that it is over.
  def test_what_is_over_before_it_was_told_is_not_told
    late = route("mail", { "to" => ["ida@tarnholm.example"] }, wait: "15min", back: true)
    raise_alert
    tell(late)
    later(200)
    Store::Database.step { Store::Alert.settle(clock.call) }
    tell(late, after: 2000)
    assert_empty @server.taken
    assert_equal [["left", "not needed"]], told
  end

  def test_a_closed_one_that_comes_again_is_told_again
    on_call = route
    alert = raise_alert
    tell(on_call)
    alert.act("close", who: "Ida", now_us: clock.call, state: "closed", closed_us: clock.call, remedy: "Plug put in.")
    raise_alert(at: clock.call)
    tell(on_call)
    assert_equal [%w[raised sent]] * 2, told
    assert_equal [true, "open"], [alert.reload.reopened, alert.state]
    assert_includes mails.last.text_part.decoded, "Last time    Plug put in."
  end

  def test_the_remedy_of_last_time_is_told
    on_call = route
    first = raise_alert(at: START - (4000 * SECOND))
    first.act("close", who: "Ida", now_us: START, state: "closed", closed_us: START, remedy: "Plug put in.")
    raise_alert
    tell(on_call)
    assert_includes mails.last.text_part.decoded, "Last time    Plug put in."
  end

  # The settings file is at fault, and says so at each message that waits.
  def test_a_mail_server_that_is_not_set_or_set_wrongly
    on_call = route
    raise_alert
    { { "NORTHDRIFT_MAIL_SERVER" => "" } => /no mail server is set: name it as mail_server/,
      { "NORTHDRIFT_MAIL_TLS" => "perhaps" } => /mail_tls is one of always, if offered/ }.each do |settings, says|
      with_settings(settings) { tell(on_call, after: 900) }
      assert_match says, Store::AlertDelivery.sole.problem
    end
    tell(on_call, after: 900)
    assert_equal 1, @server.taken.size
  end

  def test_what_was_before_the_route_is_not_told
    raise_alert
    on_call = route
    on_call.update!(created_us: clock.call + SECOND)
    tell(on_call)
    assert_empty told
    raise_alert("birch")
    tell(on_call)
    assert_equal 1, @server.taken.size
  end

  def test_history_is_not_told
    on_call = route
    raise_alert
    later(2 * 86_400)
    tell(on_call)
    assert_empty told
  end

  # By the mail gem: three parts that say the same.
  def test_a_mail_has_text_a_page_and_json
    on_call = route
    raise_alert(at: START + (82 * SECOND))
    tell(on_call)
    mail = mails.sole
    assert_equal %w[auto-generated UTF-8], [mail.header["Auto-Submitted"].value, mail.text_part.charset]
    assert_includes mail.text_part.decoded, "refused 2"
    assert_includes mail.html_part.decoded, "<h1"
    json = Oj.load(mail.attachments.sole.decoded)
    assert_equal ["raised", "Many refused", 3],
                 [json["occasion"], *json["alerts"][0].values_at("name", "line_count")]
    schema = JSONSchemer.schema(Oj.load_file(File.join(ROOT, "docs/alert-message.schema.json")))
    assert_empty(schema.validate(json).map { |error| error["error"] })
  end
end
