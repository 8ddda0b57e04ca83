# frozen_string_literal: true

require_relative "../test_helper"
require "mail"

# The process that tells of alerts is killed at random moments: no alert is lost, and none is told twice.
class SendingKillTest < Northdrift::StoreTest
  include Northdrift
  include Telling

  KILLS = Chance::FULL ? 30 : 8
  ALERTS = KILLS * 2

  def clock = -> { Store::Clock.now_us }

  def start
    data = @data
    fork do
      Store::Database.open(data)
      Server::Sending::Office.new.run(stop: -> { false })
    ensure
      exit!(0)
    end
  end

  def test_none_is_lost_and_none_is_told_twice
    server = MailServer.new
    chance = seeded(7)
    with_settings("NORTHDRIFT_MAIL_SERVER" => server.place) do
      route("mail", { "to" => %w[ida@tarnholm.example olav@tarnholm.example] }, most: 1000)
      told_by_kills(server, chance)
    end
    check(server)
  ensure
    server&.stop
  end

  def told_by_kills(server, chance)
    raised = 0
    KILLS.times do
      server.manner = %i[take take refuse die].sample(random: chance)
      pid = start
      2.times { raise_alert("machine-#{raised += 1}") }
      sleep chance.rand(0.2..1.5)
      Process.kill(:KILL, pid)
      Process.wait(pid)
      hasten
    end
    server.manner = :take
    finish
  end

  # What waits for its time is due.
  def hasten = Store::AlertDelivery.waiting.update_all(due_us: 0)

  def finish
    pid = start
    eventually("all messages", seconds: 60) do
      hasten
      Store::AlertStep.count == ALERTS && Store::AlertDelivery.count == ALERTS * 2 && Store::AlertDelivery.waiting.none?
    end
  ensure
    Process.kill(:KILL, pid) && Process.wait(pid)
  end

  def check(server)
    assert_equal({ %w[raised sent] => ALERTS * 2 }, Store::AlertDelivery.group(:occasion, :state).count)
    messages = server.taken.map { |to, data| [to, Mail.read_from_string(data)] }
    # Killed between the other side's word and our note of it, the same message comes again, by the same name.
    once = messages.uniq { |_, mail| mail.message_id }
    once.group_by(&:first).each do |to, some|
      told = some.map { |_, mail| Oj.load(mail.attachments.sole.decoded) }
      names = told.flat_map { |json| json["alerts"].map { |alert| alert["where"] } }
      assert_equal ALERTS, names.size + told.sum { |json| json["more_not_shown"] }, to.inspect
      assert_equal names.uniq, names
    end
    assert_equal 2, once.map(&:first).uniq.size
  end
end
