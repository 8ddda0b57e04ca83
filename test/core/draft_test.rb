# frozen_string_literal: true

require_relative "../test_helper"

# Expressions made from a line by choosing parts of it.
class DraftTest < Minitest::Test
  include Northdrift

  # @param chosen [Hash{String=>String, nil}] texts of the first sample, and the names that are given to them
  def draft(samples, chosen)
    parts = chosen.map { |text, name| Rules::Draft::Part.new(samples.first.index(text), text.size, name) }
    Rules::Draft.new(samples, parts)
  end

  # @return [Array<Hash>] what the drafted parser takes out of lines
  def taken(draft, lines)
    Rules::Parser
      .new(pattern: draft.pattern, types: draft.types)
      .then { |parser| lines.map { |line| parser.read(line) } }
  end

  # Lines that were not chosen from must be read as well.
  def test_what_was_chosen_in_one_line_is_found_in_others
    samples = ["crane four lifted 812.5 kg in 41 s for ida"]
    drafted = draft(samples, "four" => "crane", "812.5" => "load_kg", "41" => "seconds", "ida" => "user")
    assert_equal({ "crane" => "text", "load_kg" => "number", "seconds" => "whole", "user" => "text" }, drafted.types)
    assert_equal [{ "crane" => "two", "load_kg" => 9.0, "seconds" => 3, "user" => "olav" }, nil],
                 taken(drafted, ["crane two lifted 9 kg in 3 s for olav", "crane two stands"])
  end

  {
    "quotes" => ['said "gate is shut" to 7', "gate is shut", 'said "all well" to 9', "all well"],
    "brackets" => ["job[ferry-2] ended (code 4)", "ferry-2", "job[barge] ended (code 0)", "barge"],
    "pairs" => ["took=350ms path=/a/b", "350ms", "took=1.2s path=/c", "1.2s"],
    "the rest of the line" => [
      "refused: no berth left", "no berth left", "refused: tide too low by 3 m", "tide too low by 3 m"
    ], "a list's end" => ["10.40.1.7, port 22", "10.40.1.7", "2001:db8::1, port 4422", "2001:db8::1"],
    "letters beyond ASCII" => ["Fähre läuft aus: Möwe 7", "Möwe", "Fähre läuft aus: Krähe 9", "Krähe"]
  }.each do |what, (line, part, other, expected)|
    define_method("test_a_part_in_#{what.gsub(/\W+/, '_')}") do
      assert_equal({ "x" => expected }, taken(draft([line], part => "x"), [other]).first)
    end
  end

  def test_words_that_samples_do_not_share_are_left_open
    samples = ["berth north opened by ida after 3 s", "berth south closed by olav after 14 s"]
    drafted = draft(samples, "3" => "wait")
    assert_equal [{ "wait" => 3 }, { "wait" => 14 }, nil],
                 taken(drafted, [*samples, "gate south closed by olav after 14 s"])
  end

  def test_names_are_proposed_by_what_stands_before
    names =
      Rules::Draft
        .new(["user ida bytes=812 level: low swell 14cm"], [])
        .pieces
        .to_h { |piece| ["user ida bytes=812 level: low swell 14cm"[piece.at, piece.size], piece.name] }
    assert_equal %w[user bytes level], names.values_at("ida", "812", "low")
  end

  def test_units_and_addresses_are_seen
    types = draft(["10.0.0.1 sent 12MiB in 350ms"], "10.0.0.1" => "a", "12MiB" => "b", "350ms" => "c").types
    assert_equal({ "a" => "address", "b" => "size", "c" => "duration" }, types)
  end

  def test_a_unit_that_is_not_known_stays_outside
    drafted = draft(["swell 14cm at 1.79m"], "14" => "swell", "1.79" => "level")
    assert_equal [{ "swell" => 9, "level" => 0.5 }], taken(drafted, ["swell 9cm at 0.5m"])
  end

  def test_names_that_cannot_stand_in_an_expression_are_mended
    drafted = draft(["a 1 b 2"], "1" => "speed (kn)", "2" => "speed (kn)")
    assert_equal [{ "speed_kn_" => 1, "speed_kn__2" => 2 }], taken(drafted, ["a 1 b 2"])
  end

  def test_parts_that_overlap_or_lie_outside_are_refused
    part = Rules::Draft::Part
    assert_match(
      /overlaps/,
      assert_raises(Rules::Mistake) { Rules::Draft.new(["abcdef"], [part.new(0, 3, "a"), part.new(2, 2, "b")]) }.message
    )
    assert_match(/outside/, assert_raises(Rules::Mistake) { Rules::Draft.new(["abc"], [part.new(2, 5, "a")]) }.message)
  end

  def test_no_line_makes_an_expression_that_cannot_be_used
    random = Random.new(6)
    signs = ["a", "b ", "[", "]", "(", "\\", "*", '"', "=", "7", " ", ".", "µ", "?", "{", "|", "\t", ":", "+", "^", "$"]
    200.times do
      line = Array.new(30) { signs.sample(random: random) }.join
      pieces = Rules::Draft.new([line], []).pieces.sample(2, random: random)
      next if pieces.empty?

      drafted = Rules::Draft.new([line], pieces)
      refute_nil taken(drafted, [line]).first, "#{drafted.pattern} against #{line}"
    end
  end
end
