# frozen_string_literal: true

require_relative "../test_helper"

# Hours in which a machine wrote more or less than it does.
class DeparturesTest < Minitest::Test
  include Northdrift

  def found(counts, hours, since: 0) = Logbook::Departures.in_hours(counts, hours, since).map(&:to_a)

  WEEK = (0...(7 * 24)).to_h { |hour| [hour, (hour % 24).between?(6, 20) ? 100 : 20] }.freeze

  def test_a_loud_stretch_is_one_and_says_how_loud
    counts = WEEK.merge(168 + 13 => 4000, 168 + 14 => 9000, 168 + 15 => 100)
    assert_equal [[181, 182, 9000, 100, "more", "alarm"]], found(counts, (168 + 13)..(168 + 15))
  end

  def test_the_night_is_not_less_than_usual_and_silence_by_day_is
    assert_empty found(WEEK.merge(170 => 20), 170..170)
    assert_equal [[180, 180, 0, 100, "less", "alarm"]], found(WEEK, 180..180)
  end

  def test_too_short_a_past_tells_nothing = assert_empty(found({ 30 => 9000 }, 30..30, since: 20))
end
