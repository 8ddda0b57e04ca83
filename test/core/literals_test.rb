# frozen_string_literal: true

require_relative "../test_helper"
require "re2"

# What a regular expression cannot match without: over expressions that are put together at random, and texts that they
# match.
class LiteralsTest < Minitest::Test
  include Northdrift
  include Northdrift::Find

  # A piece of an expression, and a text that it matches.
  PIECES = [
    ->(random) { %w[pool disk time out x 7 ERR naïve жук].sample(random: random).then { |text| [text, text] } },
    ->(random) { [" ", ": ", "=", "-", "/", ", "].sample(random: random).then { |text| [text, text] } },
    lambda do |random|
      %w[. [ ] ( ) * + ? | \\ { ^ $ -].sample(random: random).then { |sign| ["\\#{sign}", sign] }
    end,
    lambda do |random|
      [
        "\\d", "\\d+", "\\d{1,3}", "\\w", "\\w*", "[0-9]", "[0-9]+?", "[^a-z ]", "[a\\]7]", "[]7]", "[^]x]",
        "[[:digit:]]", "\\pN", "\\p{N}+", "\\x37", "."
      ].sample(random: random).then { |text| [text, "7"] }
    end,
    ->(random) { ["\\s", "\\s+", "[ \\t]", "[[:space:]]*", "\\pZ"].sample(random: random).then { |text| [text, " "] } },
    lambda do |random|
      ["q?", "q*", "q*?", "q{0,2}", "(?:lost)?", "(lost)*", "[q]?", "\\Qq\\E?"].sample(random: random)
        .then { |text| [text, ""] }
    end,
    lambda do |random|
      [%w[ab+ abbb], %w[ab{2} abb], ["a\\.+", "a.."], %w[z{2,} zzz], %w[(?:no)+ nono], %w[é+ éé]].sample(random: random)
    end,
    lambda do |random|
      [
        %w[(?:one) one], %w[(two) two], %w[(?P<name>three) three], %w[((f)o(u)r) four], ["(a[)]b)", "a)b"],
        ["(a\\)b)", "a)b"], %w[(?:x(?:y)z) xyz]
      ].sample(random: random)
    end, ->(random) { [["\\b", ""], ["^", ""], ["$", ""], ["\\B", ""], ["\\A", ""]].sample(random: random) },
    lambda do |random|
      [["\\t", "\t"], ["\\n", "\n"], ["\\Qa.b\\E", "a.b"], ["\\x{e9}", "é"], ["\\141", "a"]].sample(random: random)
    end
  ].freeze

  def expression(random)
    pieces = Array.new(random.rand(1..7)) { PIECES.sample(random: random).call(random) }
    [pieces.map(&:first).join, pieces.map(&:last).join]
  end

  def test_what_is_required_stands_in_every_text_that_matches
    random = seeded(3)
    matched = told = 0
    6000.times do
      pattern, text = expression(random)
      regex = RE2::Regexp.new(pattern, log_errors: false)
      # Anchors in the middle are never fulfilled.
      next unless regex.ok? && regex.match?(text)

      matched += 1
      required = Literals.required(pattern)
      told += 1 if required.any?
      required.each { |part| assert_includes text, part, "#{pattern.inspect} matches #{text.inspect}" }
      assert_operator required.map { |part| text.index(part) }.each_cons(2).count { |one, other| one > other }, :<=,
                      required.size - required.uniq.size, "in order: #{pattern.inspect}"
    end
    assert_operator matched, :>, 2000
    assert_operator told, :>, matched / 3, "many expressions have some fixed text"
  end

  # The tokens that an index is asked for: each must be a whole word of any text around a match, or the start of one.
  def test_tokens_are_whole_words_of_whatever_text_the_match_stands_in
    random = Random.new(9)
    3000.times do
      pattern, text = expression(random)
      regex = RE2::Regexp.new(pattern, log_errors: false)
      around =
        "#{['', 'un', 'x ', '12'].sample(random: random)}#{text}#{['', 'ed', ' y', '34', '_z'].sample(random: random)}"
      next unless regex.ok? && regex.match?(text) && regex.match?(around)

      words = Words.tokens(around)
      Literals.required(pattern).each do |part|
        Literals.tokens(part).each do |token|
          found =
            token.end_with?("*") ? words.any? { |word| word.start_with?(token.chomp("*")) } : words.include?(token)
          assert found, "#{token.inspect} of #{pattern.inspect} in #{around.inspect}: #{words.inspect}"
        end
      end
    end
  end

  # Said by hand: the expression, and what no match can lack.
  {
    "timed out after \\d+ ?ms" => ["timed out after ", "ms"], "one|two" => [], "(?i)abc" => [], "(?s)ab.c" => [],
    "ab?cd" => %w[cd], "abc*de" => %w[ab de], "ab(c|d)ef" => [], "ab(cd)ef" => %w[ab ef], "^kernel: " => ["kernel: "],
    "a\\.b\\.c" => ["a.b.c"], "x" => [], "[ab]cd" => %w[cd], "\\d\\d" => [], "no\\b space" => ["no", " space"]
  }.each_with_index do |(pattern, required), index|
    define_method("test_by_hand_#{index}") { assert_equal required, Literals.required(pattern), pattern }
  end
end
