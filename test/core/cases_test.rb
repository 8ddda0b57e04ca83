# frozen_string_literal: true

require_relative "../test_helper"

# What is written of a case.
class CasesTest < Minitest::Test
  include Northdrift

  def pin(at_us, text, **more)
    Cases::Report::Pin.new(
      at_us: at_us, told_us: at_us, kind: "line", machine: "alder", severity: 3, text: text, note: "", **more
    )
  end

  def report(*pins, **facts)
    Cases::Report.new(
      number: 3,
      facts: { title: "Stall", status: "open", onset_us: nil, cause: "", remedy: "", effect: "", note: "" }.merge(
        facts
      ), pins: pins, written_us: 0
    )
  end

  def test_the_timeline_orders_itself_and_empty_facts_are_left_out
    found = report(pin(20, "second"), pin(10, "first"), pin(20, "third"), cause: "  ", remedy: "put back")
    assert_equal %w[first second third], found.timeline.map(&:text)
    assert_equal [%w[Status open], ["Remedy", "put back"]], found.facts.map(&:to_a)
  end

  def test_markdown_says_what_a_wrong_clock_said
    text = Cases::Markdown.write(report(pin(60_000_000, "late", told_us: 0)))
    assert_includes text, "1970-01-01 00:01:00.000 UTC"
    assert_includes text, "its own clock: 1970-01-01 00:00:00.000 UTC"
  end

  def test_fences_are_longer_than_what_they_hold
    text = Cases::Markdown.write(report(pin(1, "x", raw: "a ```` b\n# c", sha256: "ab", source: "f:1")))
    assert_includes text, "`````text\na ```` b\n# c\n`````"
  end
end
