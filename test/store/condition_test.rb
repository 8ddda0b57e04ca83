# frozen_string_literal: true

require_relative "../test_helper"

# Which way the database goes for a question: a table scan where an index would do is a fault that no answer shows.
class ConditionTest < Northdrift::StoreTest
  include Northdrift

  def setup
    super
    import_text(
      Array
        .new(60) do |index|
          "Nov 22 06:12:08 #{%w[tix-db-1 gate-brn-1][index % 2]} unit: event #{index} took=#{index}ms\n"
        end
        .join
    )
  end

  # Lists that people paste.
  def test_hundreds_of_words_and_conditions
    import_text("Nov 23 10:00:00 alder app: berth w500 w1\nNov 23 10:00:01 birch app: berth w700\n")
    words = (1..600).map { |number| "w#{number}" }
    { " or " => 1, " " => 0 }.each { |by, count| assert_equal count, question(words.join(by)).total, by }
    assert_equal 1, question("w700 #{words.map { |word| "not #{word}" }.join(' ')}").total
    assert_equal 2, question(words.map { |word| "*#{word}*" }.first(300).join(" or ")).total
    assert_equal question("has host.name").total,
                 question((1..300).map { |number| "host.name = #{number == 300 ? '*' : number}" }.join(" or ")).total
  end

  def plan(text) = Store::Planner.new(Store::Kinds.current).plan(question(text).tree)

  def test_words_phrases_and_prefixes_need_the_index_alone
    ["event", '"event 7"', "ev*", "event or took", "event 7"].each { |text| assert plan(text).only?(:match), text }
  end

  def test_machines_and_fields_are_sets_of_kinds
    ["host.name = tix-db-1", "host.name = tix*", "has took", "reader = rfc3164", "not has took"].each do |text|
      assert plan(text).only?(:kinds), text
    end
    assert plan("severity >= warning").only?(:severities)
    assert plan("not event").only?(:without)
  end

  def test_regular_expressions_are_narrowed_by_their_fixed_words
    assert_equal '"event"', plan("message ~ /: event \\d/").match
    assert_nil plan("message ~ /event|unit/").match
  end

  def test_a_question_that_nothing_can_answer_is_known_at_once
    assert_predicate plan("host.name = nobody"), :nothing?
    assert_equal 0, question("host.name = nobody").total
  end
end
