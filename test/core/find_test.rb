# frozen_string_literal: true

require_relative "../test_helper"
require "re2"

class FindTest < Minitest::Test
  include Northdrift
  include Northdrift::Find

  def parse(text, known: nil) = Parser.parse(text, known: known)
  def word(text) = Tree::Word.new(text)

  def test_precedence
    assert_equal Tree::Any.new([Tree::All.new([word("a"), Tree::Not.new(word("b"))]), word("c")]), parse("a not b or c")
    assert_equal Tree::All.new([word("a"), Tree::Any.new([word("b"), word("c")])]), parse("a and (b or c)")
  end

  def test_operators_count_only_after_a_fields_name
    assert_equal Tree::All.new([word("->"), word("/a?b=c"), word("<34>")]), parse("-> /a?b=c <34>")
    assert_equal Tree::Compare.new("bytes", :>=, "10MB"), parse("bytes>=10MB")
  end

  # Scripts without blanks: a word stands anywhere in what the index takes for one.
  def test_words_of_scripts_without_blanks
    { "日本語" => "日本語", "日本語*" => "日本語", "ภาษาไทย" => "ภาษาไทย" }.each do |find, text|
      assert_equal Tree::Contains.new(text), parse(find), find
    end
    assert_equal word("한국어"), parse("한국어"), "Korean has blanks"
    matcher = Matcher.new(parse("日本語 not 中文"))
    found = ["Hello 日本語テキスト", "日本語と中文"].select { |text| matcher.match?(Matcher::Subject.new(6, text)) }
    assert_equal ["Hello 日本語テキスト"], found
  end

  MISTAKES = {
    "(a or b" => [1, "not closed"], "a )" => [3, "no ( that"], "host.name =" => [11, "value is missing"],
    "a and" => [6, "condition is missing"], '"open' => [1, "not closed"], "message ~ /(/" => [11, "cannot be read"],
    "severity >= wrning" => [13, "no severity"], "size > big" => [8, "compares numbers"],
    "user.name in (ida" => [14, "not closed"], "or b" => [1, "needs a condition"]
  }.freeze

  MISTAKES.each do |text, (column, words)|
    define_method("test_mistake_in_#{text.tr('^a-z', '_')}") do
      mistake = assert_raises(Mistake) { parse(text) }
      assert_equal column, mistake.column
      assert_includes mistake.message, words
    end
  end

  def test_a_misspelt_field_is_told_with_its_neighbour
    mistake = assert_raises(Mistake) { parse("x and usr.name = ida", known: -> { %w[user.name request.id] }) }
    assert_equal [7, 8, "user.name"], [mistake.column, mistake.length, mistake.suggestion]
    assert_equal "request.id",
                 assert_raises(Mistake) { parse("has reqest.id", known: -> { %w[request.id] }) }.suggestion
  end

  # What is typed, a text, and whether it is found there.
  MATCHES = [
    ["disk full", "The DISK is full", true], ["disk full", "the disks are full", false],
    ["tix-db-1", "from tix-db-1:5432", true], ["tix-db-1", "from tix-db-12", false],
    ["10.20.3.4", "peer 10.20.3.4:22", true], ["10.20.3.4", "peer 110.20.3.4", false],
    ["/dev/sda1", "on /dev/sda1,", true], ["0x80070005", "code 0x80070005.", true],
    ["BK-88214", "booking BK-88214 failed", true], ["ERR_TIMEOUT", "got ERR_TIMEOUT!", true],
    ["timeout", "got ERR_TIMEOUT!", false], ['"no space left"', "No space-left: no; no space left", true],
    ['"no space left"', "no left space", false], ["time*", "it timed out", true], ["time*", "sometimes", false],
    ["*metim*", "sometimes", true], ["err*code", "the errno_code 5", true], ["grün", "GRÜN ist", true]
  ].freeze

  MATCHES.each_with_index do |(find, text, expected), index|
    define_method("test_match_#{index}") do
      subject = Matcher::Subject.new(8, text, nil, nil, text, -> { text }, -> { {} })
      assert_equal expected, Matcher.new(parse(find)).match?(subject), "#{find} in #{text}"
    end
  end

  # Operator, field, typed value, value of the event, whether it fits.
  VALUES = [
    [:==, "user.name", "IDA", "ida", true], [:==, "host.name", "gate-*", "gate-brn-1", true],
    [:exactly, "host.name", "gate-*", "gate-brn-1", false], [:==, "duration_ms", "2500", 2500.0, true],
    [:>, "duration_ms", "2.5s", 2501, true], [:>, "duration_ms", "2.5s", 2500, false],
    [:>, "took", "350ms", "0.4s", true], [:>=, "bytes", "10MB", "10000000", true], [:<, "bytes", "1KiB", 1024, false],
    [:>, "took", "1MB", "5s", false], [:==, "source.address", "10.40.0.0/16", "10.40.9.1", true],
    [:==, "source.address", "10.40.0.0/16", "10.41.0.1", false],
    [:==, "source.address", "2001:db8::/32", "2001:db8::5", true], [:==, "flag", "true", true, true]
  ].freeze

  VALUES.each_with_index do |(operator, field, wanted, value, expected), index|
    define_method("test_value_#{index}") { assert_equal expected, Values.test(field, operator, wanted).call(value) }
  end

  # What a regular expression requires is in every text that it matches.
  def test_literals_are_in_what_matches
    {
      "timed out after \\d+ ?ms" => "timed out after 30000 ms", "a(b|c)+def[xy]ghi*j" => "abdefxghj",
      "(?i)abc" => "ABC", "ab?cd{2}ef" => "acddef", "one|two" => "two", "x\\.log\\b" => "x.log"
    }.each do |pattern, text|
      assert RE2::Regexp.new(pattern).match?(text), pattern
      Literals.required(pattern).each { |part| assert_includes text, part, pattern }
    end
    assert_equal ["timed out after "], Literals.required("timed out after \\d+ ?ms").first(1)
    assert_equal %w[out after], Literals.whole_tokens("timed out after ")
  end
end
