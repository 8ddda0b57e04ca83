# frozen_string_literal: true

require_relative "../test_helper"
require "re2"

# The index narrows what a condition has to be tried on. Whatever it narrows by, the answer must be that of looking at
# every line: over conditions that are put together at random out of the lines themselves.
class NarrowingTest < Northdrift::StoreTest
  include Northdrift

  WORDS = %w[
    pool timed_out Timeout disk /dev/sda1 10.20.3.4 tix-db-1 user@host naïve ÜBER жук 日本語 ERR-42 0x80070005 a.b.c x y2
    _z k=v quoted [brackets] C:\\temp %5 it's 50% §7 e.g. né
  ].freeze
  GAPS = [" ", "  ", ", ", ": ", "-", "\t", "/", "=", " | ", "…"].freeze

  def setup
    super
    @random = seeded(31)
    lines =
      Array.new(500) do |index|
        "<13>1 2026-11-23T06:00:#{format('%02d', index % 60)}Z zz qqq - - - #{sentence}" \
          "#{"\n\tat #{sentence}" if (index % 9).zero?}"
      end
    import_text("#{lines.join("\n")}\n", name: "a.log")
    @events = question.to_enum(:each).to_a
    @texts = @events.map { |event| Text.utf8(event.raw) }
  end

  def sentence
    Array.new(@random.rand(1..6)) { WORDS.sample(random: @random) + GAPS.sample(random: @random) }.join.strip
  end

  # A part of some line, wherever it starts and ends.
  def part
    text = Text.utf8(@events.sample(random: @random).message)
    from = @random.rand(text.length)
    text[from, @random.rand(1..14)]
  end

  def quoted(text) = "\"#{text.gsub(/["\\]/) { |sign| "\\#{sign}" }}\""

  # @yieldparam text [String] UTF-8, a message
  def assert_found(find, told = find)
    asked = question(find)
    expected = @events.select { |event| yield Text.utf8(event.message) }.map(&:id)
    assert_equal expected, asked.to_enum(:each).map(&:id), told
    assert_equal expected.size, asked.total, told
    expected.any? && expected.size < @events.size ? 1 : 0
  end

  # Parts of lines as expressions, with some of them opened.
  def expression(text)
    text.each_char.map do |char|
      case @random.rand(14)
      when 0 then "."
      when 1 then char == "\n" ? "\\s" : "(?:#{RE2::Regexp.escape(char)}|Q)"
      when 2 then char.match?(/\d/) ? "\\d" : "[^\\d]"
      when 3 then "#{RE2::Regexp.escape(char)}+"
      when 4 then "(#{RE2::Regexp.escape(char)})"
      when 5 then "#{RE2::Regexp.escape(char)}Q?"
      else RE2::Regexp.escape(char)
      end
    end.join
  end

  def test_regular_expressions
    told_apart = 200.times.sum do
      pattern = expression(part)
      regex = RE2::Regexp.new(pattern, log_errors: false)
      next 0 if !regex.ok? || pattern.strip != pattern || pattern.empty?

      assert_found("message ~ /#{pattern}/") { |message| regex.match?(message) }
    end
    assert_operator told_apart, :>, 80
  end

  def test_regular_expressions_with_anchors_and_flags
    {
      "^" => "", "(?i)" => "", "\\b" => "", "" => "$", "(?s)^.*" => "", "(?i:" => ")", "(?:" => ")?pool"
    }.each do |before, after|
      20.times do
        pattern = "#{before}#{RE2::Regexp.escape(part.strip)}#{after}"
        regex = RE2::Regexp.new(pattern, log_errors: false)
        assert_found("message ~ /#{pattern}/") { |message| regex.match?(message) } if regex.ok?
      end
    end
  end

  def test_classes_of_unicode
    [
      "\\p{L}+ \\d", "\\pL\\pL\\pL", "\\p{Cyrillic}", "\\p{Han}{2}", "\\PL\\pN", "жу\\pL", "[[:alpha:]]+_out",
      "na\\pLve", "\\x{436}ук"
    ].each do |pattern|
      regex = RE2::Regexp.new(pattern)
      assert_found("message ~ /#{pattern}/") { |message| regex.match?(message) }
    end
  end

  # Text inside words, in any case; the whole record counts, of which all lines here have their message at the end.
  def test_contained_text
    told_apart = 150.times.sum do
      text = part.delete("*\"()").split(/\s/).max_by(&:length).to_s
      next 0 if text.length < 2

      assert_found("*#{text}*") { |message| message.downcase.include?(text.downcase) }
    end
    assert_operator told_apart, :>, 60
  end

  # Words in their order: runs of letters, digits and underscores (Unicode Standard, annex 44: general categories L, M,
  # N), without regard to case or accents' place.
  def test_phrases
    told_apart = 150.times.sum do
      text = part
      words = Find::Words.tokens(text)
      next 0 if words.empty?

      assert_found(quoted(text)) { |message| Find::Words.tokens(message).each_cons(words.size).include?(words) }
    end
    assert_operator told_apart, :>, 40
  end

  def test_words_as_they_stand
    told_apart = WORDS.sum do |word|
      next 0 if word.match?(/["()*\s]/) || word.match?(/[=<>~]/)

      pattern =
        Regexp.new(
          "#{'(?<![[:alnum:]_])' if word.match?(/\A[[:alnum:]_]/)}#{Regexp.escape(word)}" \
          "#{'(?![[:alnum:]_])' if word.match?(/[[:alnum:]_]\z/)}",
          Regexp::IGNORECASE
        )
      # Of scripts without blanks a word stands anywhere.
      pattern = Regexp.new(Regexp.escape(word), Regexp::IGNORECASE) if word.match?(Find::Words::UNSPACED)
      assert_found(word) { |message| message.match?(pattern) }
    end
    assert_operator told_apart, :>, 15
  end

  def test_conditions_that_are_joined
    told_apart = 60.times.sum do
      one, other = Array.new(2) { WORDS.sample(random: @random).delete("\"()[]=") }
      next 0 if [one, other].any? { |word| Find::Words.tokens(word).empty? || word.match?(/[<>~*\\]/) }

      pattern = Text.utf8(RE2::Regexp.escape(other[0, 3]))
      regex = RE2::Regexp.new(pattern)
      matcher = Find::Matcher.new(Find::Parser.parse(one))
      fits = lambda do |message|
        matcher.match?(Find::Matcher::Subject.new(8, message, nil, nil, message, -> { message }, -> { {} }))
      end
      assert_found("#{one} and not message ~ /#{pattern}/") { |message| fits.call(message) && !regex.match?(message) }
    end
    assert_operator told_apart, :>, 20
  end
end
