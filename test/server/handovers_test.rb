# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"

# What one shift tells the next, by HTTP.
class HandoversTest < Northdrift::AskingTest
  include Northdrift

  DAY = Time.utc(2026, 11, 22)
  # Two days before, so that something can be new in the shift.
  BEFORE = "<14>1 2026-11-20T06:00:00Z alder sshd 1 - - Accepted password for ann from 10.0.0.1 port 22 ssh2\n" * 3
  SHIFT = [
    "<13>1 2026-11-22T06:05:00Z alder kernel - - - Linux version 6.1.0-27-amd64 (debian-kernel@lists.debian.org)",
    "<11>1 2026-11-22T06:10:00Z alder shop 1 - - the till of the north hall does not answer",
    "<14>1 2026-11-22T06:20:00Z oak sshd 1 - - Accepted password for bob from 10.0.0.2 port 22 ssh2"
  ].join("\n").concat("\n")

  def setup
    super
    import_text(BEFORE)
    import_text(SHIFT)
  end

  def micros(hour, minute = 0) = (DAY + (hour * 3600) + (minute * 60)).to_i * 1_000_000

  def summary(from_us = micros(6), to_us = micros(14))
    told = ask("/api/handovers/summary?from=#{from_us}&to=#{to_us}", "ShiftSummary")
    told["sections"].to_h { |one| [one["key"], one["items"]] }
  end

  def says(sections, key) = sections[key].map { |one| one["says"] }

  def test_what_happened_in_a_shift
    told = summary
    assert_equal %w[standing opened closed changes restarts silences fresh volumes watch ending], told.keys
    assert_equal([["alder", micros(6, 5)]], told["restarts"].map { |one| one.values_at("machine", "at_us") })
    fresh = says(told, "fresh")
    assert_includes fresh, "a machine that was never heard of before"
    assert(fresh.any? { |one| one.start_with?("bob, never named before") }, fresh.inspect)
    assert_includes fresh, "never before: the till of the north hall does not answer"
    refute(fresh.any? { |one| one.include?("ann") }, "she was there before")
    # Of the first lines that there are nothing is told as new.
    assert_equal [], summary(micros(-48), micros(-24))["fresh"]
  end

  # Each item leads to its lines.
  def test_items_lead_to_their_lines
    item = summary["fresh"].find { |one| one["says"].start_with?("never before") }
    asked = URI.decode_www_form(URI(item["to"]).query).to_h
    from, to = asked.values_at("from", "to").map { |text| (Time.iso8601(text).to_r * 1_000_000).to_i }
    assert_equal ["the till of the north hall does not answer"],
                 question(asked["chip"], from_us: from, to_us: to).page.events.map(&:message)
  end

  def test_alerts_as_they_were_at_the_end
    ids = { "a" => "alder", "b" => "oak" }.map do |key, machine|
      put_at("/api/outside-alerts/#{key}",
             { "name" => "Disk #{key}", "severity" => "error", "machine" => machine })["id"]
    end
    post_to("/api/alerts/actions", { "action" => "close", "ids" => [ids[1]], "text" => "made room" })
    to_us = Store::Clock.now_us + 1_000_000
    told = summary(to_us - 3_600_000_000, to_us)
    assert_equal ["Disk a, a", "Disk b, b"], says(told, "opened").sort
    assert_equal ["Disk b, b"], says(told, "closed")
    assert_match(/made room/, told["closed"].first["more"])
    assert_equal([["Disk a, a", "nobody has taken it", "/alerts?show=all&alert=#{ids[0]}"]],
                 told["standing"].map { |one| one.values_at("says", "more", "to") })
  end

  def test_a_shift_is_handed_over_and_acknowledged
    made = post_to("/api/handovers", { "from_us" => micros(6), "to_us" => micros(14), "remarks" => "Watch **oak**." },
                   "Handover")
    assert_equal ["Watch **oak**.", nil], made.values_at("remarks", "acknowledged_us")
    kept = made["sections"]
    import_text("<11>1 2026-11-22T07:00:00Z elm shop 1 - - another that nobody has seen yet\n")
    path = "/api/handovers/#{made['id']}"
    assert_equal kept, ask(path, "Handover")["sections"], "it stays as it was told"
    assert_equal "Watch elm.", patch_at(path, { "remarks" => "Watch elm." }, "Handover")["remarks"]
    assert post_to("#{path}/acknowledged", {}, "Handover")["acknowledged_us"]
    assert_equal 409, post_to("#{path}/acknowledged", {})["status"]
    assert_equal 409, patch_at(path, { "remarks" => "later" })["status"]
    assert_equal([made["id"]], ask("/api/handovers", "Handovers")["handovers"].map { |one| one["id"] })
    # The next begins where this one ended.
    assert_equal micros(14), ask("/api/handovers/summary", "ShiftSummary")["from_us"]
  end

  def test_windows_that_will_not_do
    assert_equal [400, "to"],
                 post_to("/api/handovers", { "from_us" => 5, "to_us" => 5 }).values_at("status", "parameter")
    assert_equal [400, "from"], post_to("/api/handovers", { "from_us" => 5, "to_us" => micros(0) })
      .values_at("status", "parameter")
    assert_equal [400, "remarks"], post_to("/api/handovers", { "from_us" => micros(0), "to_us" => micros(1),
                                                               "remarks" => 5 }).values_at("status", "parameter")
    assert_equal 404, ask("/api/handovers/77")["status"]
  end
end
