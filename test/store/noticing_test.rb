# frozen_string_literal: true

require_relative "../test_helper"

# What the logbook makes of there being no lines, or far more than usual.
class NoticingTest < Northdrift::StoreTest
  include Northdrift

  def notice(at) = Store::Noticing.new(micros(at)).run

  def told = Store::Happenings.of(rules: %w[silence volume]).map { |one| [one.kind, one.machine, one.says] }

  def lines(from, to, seconds)
    (from.to_i...to.to_i)
      .step(seconds)
      .map { |second| Time.at(second).utc.strftime("%b %e %H:%M:%S alder app: at work") }
  end

  def test_a_silence_begins_and_ends
    start = Time.utc(2026, 11, 20, 6)
    import_text("#{lines(start, start + 7200, 60).join("\n")}\n")
    import_text("Nov 20 09:30:00 birch app: still here\n", name: "birch.log")
    notice(Time.utc(2026, 11, 20, 9, 30))
    assert_equal [["silence", "alder", "is silent, for 1 h 31 min by now; it usually speaks within 1 min"]], told
    import_text("#{lines(start + 14_400, start + 18_000, 60).join("\n")}\n", name: "later.log")
    notice(Time.utc(2026, 11, 20, 11))
    assert_equal [["silence", "alder", "said nothing for 2 h 1 min; it usually speaks within 1 min"]], told
    # To look again changes nothing.
    notice(Time.utc(2026, 11, 20, 11))
    assert_equal 1, told.size
    refute_predicate Store::Happenings.of(rules: %w[silence]).first, :of_line?
  end

  def test_far_more_lines_than_usual
    start = Time.utc(2026, 11, 12)
    import_text("#{lines(start, start + (8 * 86_400), 120).join("\n")}\n")
    import_text(
      "#{lines(start + (7 * 86_400) + 36_000, start + (7 * 86_400) + 39_600, 2).join("\n")}\n", name: "burst.log"
    )
    notice(start + (8 * 86_400))
    assert_equal [["volume", "alder", "wrote more than usual: 1830 lines an hour, where at most 30 are usual"]], told
  end
end
