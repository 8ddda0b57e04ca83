# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"

# What is wrong now.
class NowTest < Northdrift::AskingTest
  include Northdrift
  include Telling

  DAY = 86_400

  def now_report = ask("/api/now", "Now")
  def strips(by = "service") = ask("/api/now/strips?by=#{by}", "NowStrips")

  # Lines of a machine each ten minutes, up to a moment before now.
  def beats(machine, days:, until_ago: 0)
    ends = Store::Clock.now - until_ago
    (0..(days * 144)).map { |n| ends - (n * 600) }.reverse
      .map { |time| "<14>1 #{time.utc.strftime('%FT%TZ')} #{machine} beat 1 - - all is well\n" }.join
  end

  def said(seconds_ago, text, machine: "alder", severity: 3)
    time = (Store::Clock.now - seconds_ago).utc
    "<#{8 + severity}>1 #{time.strftime('%FT%TZ')} #{machine} app 1 - - #{text}\n"
  end

  def test_nothing_is_wrong_where_nothing_is
    told = now_report
    assert_equal [[], [], [], nil], told.values_at("alerts", "troubles", "changes", "calm_us")
    assert_empty strips["strips"]
    import_text(beats("alder", days: 3))
    assert_empty now_report["troubles"]
  end

  def test_a_machine_that_fell_silent
    import_text(beats("alder", days: 5, until_ago: 7200) + beats("birch", days: 5))
    assert_equal([["silence", "alder", "Says nothing, unlike itself"]],
                 now_report["troubles"].map { |one| one.values_at("kind", "machine", "says") })
  end

  def test_an_error_that_is_new_and_one_that_was_always_there
    old = (0..4).map { |day| said((day * DAY) + 60, "queue 7 could not be read") }.reverse.join
    import_text(beats("alder", days: 5) + old + said(3600, "the pool ran dry") + said(1800, "note", severity: 6))
    told = now_report["troubles"]
    assert_equal([["pattern", 3, "New: the pool ran dry"]],
                 told.map { |one| one.values_at("kind", "severity", "says") })
    assert_equal 1, question(told[0]["find"]).total
  end

  # Of lines of a day alone everything would be new.
  def test_nothing_is_new_before_there_is_a_past
    import_text(beats("alder", days: 1) + said(3600, "the pool ran dry"))
    assert_empty now_report["troubles"]
  end

  def test_alerts_that_hold_come_first_then_the_worst
    clock_us = Store::Clock.now_us
    @now_us = clock_us
    raise_alert("alder").update!(severity: 4)
    raise_alert("birch").update!(severity: 2, calm_us: clock_us)
    raise_alert("cedar").update!(severity: 3)
    raise_alert("elder").update!(severity: 0, quiet_id: 7)
    told = now_report
    assert_equal(%w[cedar alder birch], told["alerts"].map { |one| one["machine"] })
    assert_equal 1, told["quiet"]
  end

  def test_what_helped_last_time_is_told
    @now_us = Store::Clock.now_us
    before = raise_alert("alder", at: @now_us - (4000 * SECOND))
    before.act("close", who: "Ida", now_us: @now_us, state: "closed", closed_us: @now_us, remedy: "Plug put in.")
    raise_alert("alder")
    told = now_report
    assert_equal ["Plug put in.", 1], told["alerts"][0].values_at("last_remedy", "times_before")
    assert_equal [1, @now_us], told.values_at("closed", "calm_us")
  end

  def test_strips_have_their_lines_and_the_latest_of_the_worst
    import_text(beats("alder", days: 2) + said(7200, "the pool ran dry") + said(300, "the pool ran dry, too") +
                said(60, "fine", severity: 6))
    told = strips
    assert_equal(%w[app beat], told["strips"].map { |one| one["name"] })
    app = told["strips"][0]
    assert_equal [3, "the pool ran dry, too", 2, 1],
                 [app["line"]["severity"], app["line"]["message"], *app["counts"].transpose.map(&:sum).values_at(3, 6)]
    to_us = told["start_us"] + (told["step_us"] * app["counts"].size)
    assert_equal question("service.name = beat", from_us: told["start_us"], to_us: to_us).total,
                 told["strips"][1]["counts"].flatten.sum
    assert_equal(["alder"], strips("machine")["strips"].map { |one| one["name"] })
  end

  def test_lines_that_come_in_by_themselves_are_live
    refute ask("/api/status", "Status")["live"]
    feed = Store::Feed.create!(name: "gates", kind: "udp", given: {}, created_us: 1)
    import_text(said(60, "x"))
    source = Store::Source.sole
    source.update!(feed_id: feed.id)
    minute = Store::Clock.now_us / 60_000_000
    add = "INSERT INTO arrivals (source_id, minute, lines, bytes, unread, timed, lag_ms) VALUES (?, ?, 1, 1, 0, 1, 0)"
    Store::Database.rows(add, [source.id, minute - 20])
    refute ask("/api/status", "Status")["live"]
    Store::Database.rows(add, [source.id, minute - 5])
    assert ask("/api/status", "Status")["live"]
  end
end
