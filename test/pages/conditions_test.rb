# frozen_string_literal: true

require_relative "../test_helper"

# Conditions that pages write when a value or a name is clicked, read by what answers them: whatever programs call their
# fields and write into them, the question must be that for this field and this value.
class ConditionsTest < Minitest::Test
  include Northdrift

  VALUES = [
    "x", "x y", 'a"b', 'a\b', "and", "OR", "a=b", "<34>", ">5", "/x/", "~", "a*", "*", "a,b", "(x)", "x)", "", "  x ",
    "tab\there", "new\nline", "é", "日本", "'q'", "1e5", "1795327928417000001", "-5", "5ms", "true", "!x", "not", "a!=b",
    "#c", "@t", "–", "a:b", "[x]", "{x}", "C:\\Windows\\x", "\\\\srv\\share", '"', "\\", "x\\", "\u00A0", "\u200B",
    "in", "has", "\u{1F980}"
  ].freeze
  NAMES = [
    "k", "host.name", "a b", "Event ID", "and", "or", "NOT", "has", "in", "a=b", 'a"b', "x(y)", "ключ", "a,b", "*",
    "1st", "-x", "@timestamp", "cs(User-Agent)", "x-y", "a:b", "a/b", "a~b", "<a>", "a!", "a.", "a\\b", "\\", "größe",
    "http:status", "x  y"
  ].freeze
  # As every line has them, or nearly so.
  TAKEN = %w[
    text source Source reader pattern parser severity SEVERITY message line id time kind count noise level
  ].freeze

  def texts(random, count)
    Array.new(count) do
      Array.new(random.rand(1..8)) { [" \"\\=!~<>()*,/.:@#aZ0é日", "and", "\n"].sample(random: random) }.join
    end
  end

  def asked(text)
    node = Find::Parser.parse(text)
    node.is_a?(Find::Tree::Not) ? [:not, *asked_of(node.to_a.first)] : asked_of(node)
  end

  def asked_of(node)
    case node
    when Find::Tree::Compare then [node.field, node.value]
    when Find::Tree::Has then [:has, node.to_a.first]
    else [node]
    end
  end

  def test_a_value_that_is_clicked_on
    random = seeded(5)
    pairs = NAMES.product(["v 1"]) + ["k"].product(VALUES) + texts(random, 300).zip(texts(random, 300))
    calls =
      pairs.flat_map do |name, value|
        [["question", "equals", name, value], ["question", "differs", name, value], ["question", "has", name]]
      end
    pairs.zip(FrontEnd.call(calls).each_slice(3)) do |(name, value), (equal, differing, has)|
      assert_equal [[name, value], [:not, name, value], [:has, name]], [asked(equal), asked(differing), asked(has)],
                   equal
    end
  end

  # Clicking its opposite replaces a condition, and nothing else.
  def test_a_condition_and_its_opposite
    pairs = NAMES.product(["x != y", "a = b", "v"])
    written =
      FrontEnd
        .call(
          pairs.flat_map { |name, value| [["question", "equals", name, value], ["question", "differs", name, value]] }
        )
        .each_slice(2)
        .to_a
    chips =
      FrontEnd.call(
        written.flat_map do |one, other|
          [
            ["question", "withChip", ["kept = 1", one], other], ["question", "withChip", ["kept = 1", other], one],
            ["question", "withChip", [one], one]
          ]
        end
      )
    written.zip(chips.each_slice(3)) do |(one, other), found|
      assert_equal [["kept = 1", other], ["kept = 1", one], [one]], found, one
    end
  end

  # The choices beside the sentence and what measures must mean the same by a clause.
  def test_a_clause_that_is_chosen
    random = seeded(6)
    clauses = Array.new(200) do
      aggregate = %w[count distinct sum avg min max p50 p95 p99].sample(random: random)
      {
        "aggregate" => aggregate, "field" => aggregate == "count" ? nil : NAMES.sample(random: random),
        "by" => NAMES.sample(random.rand(0..2), random: random),
        "per" => ["no time", "auto", "second", "minute", "5 min", "hour", "day"].sample(random: random),
        "top" => [10, 3, 100].sample(random: random)
      }
    end
    texts = FrontEnd.call(clauses.map { |clause| ["clause", "write", clause] })
    assert_equal clauses, FrontEnd.call(texts.map { |text| ["clause", "parse", text] })
    clauses.zip(texts) do |clause, text|
      read = Measure::Clause.parse(text, known: -> { NAMES })
      step = {
        "no time" => nil, "auto" => 0, "second" => 1, "minute" => 60, "5 min" => 300, "hour" => 3600, "day" => 86_400
      }.fetch(clause["per"])
      assert_equal [*clause.values_at("aggregate", "field", "by"), step && step * 1_000_000, clause["top"]],
                   [read.aggregate, read.field, read.by, read.step_us, read.top], text
    end
  end

  def test_a_question_as_it_is_asked
    question = {
      "find" => "a b", "chips" => ['"Event ID" = 7', "k != 1"], "fromUs" => 1_795_327_928_417_000, "toUs" => nil,
      "hidden" => %w[debug unset], "scope" => "hall é", "compared" => "day", "measure" => "count by k",
      "view" => "fields", "lanes" => "machine", "columns" => %w[k user.name], "wrap" => true, "trueTime" => true,
      "noiseShown" => true, "line" => "9007199254740993", "thread" => "nearby"
    }
    link, asked =
      FrontEnd
        .call([["question", "write", question], ["question", "asked", question]])
        .map { |text| URI.decode_www_form(text) }
    assert_equal [
      ["find", "a b"], ["chip", '"Event ID" = 7'], ["chip", "k != 1"], %w[from 2026-11-22T06:12:08.417Z],
      %w[hide debug,unset], ["scope", "hall é"], %w[with day], ["measure", "count by k"], %w[view fields],
      %w[lanes machine], %w[columns k,user.name], %w[rows wrapped], %w[time true], %w[noise shown],
      %w[line 9007199254740993], %w[thread nearby]
    ], link
    assert_equal [
      ["find", "a b"], ["chip[]", '"Event ID" = 7'], ["chip[]", "k != 1"], %w[from 1795327928417000],
      %w[hide debug,unset], ["scope", "hall é"], %w[noise shown]
    ], asked
    assert_equal "",
                 FrontEnd.call(
                   [
                     [
                       "question", "write",
                       {
                         "chips" => [], "hidden" => [], "columns" => [], "view" => "lines", "fromUs" => nil,
                         "toUs" => nil, "line" => nil
                       }
                     ]
                   ]
                 ).first, "a question that asks nothing has a bare address"
  end
end

# The same, asked of lines that are stored.
class ClickedTest < Northdrift::StoreTest
  include Northdrift

  def test_a_value_that_is_clicked_on_finds_its_line
    pairs =
      (ConditionsTest::NAMES + ConditionsTest::TAKEN).product(["v 1"]) + ["k"].product(ConditionsTest::VALUES - [""])
    import_text(
      pairs
        .each_with_index
        .map do |(name, value), index|
          "#{JSON.generate('time' => '2026-11-22T06:12:08Z', 'msg' => "line #{index}", name => value)}\n"
        end
        .join
    )
    stored =
      question.to_enum(:each).map { |event| [event.message, *(event.fields.first || ["host.name", event.machine])] }
    assert_equal pairs.size, stored.size
    conditions =
      FrontEnd.call(
        stored.flat_map do |_, name, value|
          [["question", "equals", name, value], ["question", "differs", name, value], ["question", "has", name]]
        end
      )
    stored.zip(conditions.each_slice(3)) do |(message, name, value), (equal, differing, has)|
      told = ->(text) { question(text).to_enum(:each).map(&:message) }
      assert_includes told.call(equal), message, equal
      refute_includes told.call(differing), message, differing
      assert_includes told.call(has), message, has
      # Nothing is found that has another value, but for its case.
      assert_equal(
        stored.select { |_, other, its| other == name && its.to_s.casecmp?(value.to_s) }.map(&:first), told.call(equal),
        equal
      )
    end
  end
end
