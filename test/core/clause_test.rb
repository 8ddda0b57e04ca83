# frozen_string_literal: true

require_relative "../test_helper"

class ClauseTest < Minitest::Test
  include Northdrift
  include Northdrift::Measure

  FIELDS = %w[duration_ms service.name host.name user.name bytes].freeze
  MINUTE = 60_000_000

  def clause(text) = Clause.parse(text, known: -> { FIELDS })
  def parts(text) = clause(text).to_a

  CLAUSES = {
    "count" => ["count", nil, [], nil, 10], " COUNT " => ["count", nil, [], nil, 10],
    "count by severity" => ["count", nil, ["severity"], nil, 10],
    "distinct( user.name ) by host.name ,service.name" => [
      "distinct", "user.name", %w[host.name service.name], nil, 10
    ],
    "p95(duration_ms) by service.name, severity per 5 min top 8" => [
      "p95", "duration_ms", %w[service.name severity], 5 * MINUTE, 8
    ], "sum(bytes) per auto" => ["sum", "bytes", [], 0, 10],
    "avg(BYTES) per minute" => ["avg", "bytes", [], MINUTE, 10],
    "max(duration_ms) per 2 hours top 3" => ["max", "duration_ms", [], 120 * MINUTE, 3],
    "min(duration_ms) per 0.5 s" => ["min", "duration_ms", [], 500_000, 10],
    "count per 2 days" => ["count", nil, [], 2880 * MINUTE, 10]
  }.freeze

  CLAUSES.each_with_index do |(text, expected), index|
    define_method("test_clause_#{index}") { assert_equal expected, parts(text), text }
  end

  # Text, column of the mistake, and a part of what is said.
  MISTAKES = {
    "" => [1, "measured as what"],
    "median(duration_ms)" => [1, "measured as what"],
    "p95" => [4, "of a field"],
    "p95(duration_ms" => [16, "closing parenthesis"],
    "p95(duraton_ms)" => [5, "did you mean duration_ms?"],
    "count by" => [9, "name of a field is missing"],
    "count by host.name, service.name, user.name" => [44, "no more than 2"],
    "count per fortnight" => [11, "per what time"],
    "count per 0 min" => [11, "at least"],
    "count top 0" => [11, "top how many"],
    "count top 500" => [11, "From 1 to 100"],
    "count sideways" => [7, "not understood here"],
    "count top 5 by host.name" => [13, "the order is"]
  }.freeze

  MISTAKES.each_with_index do |(text, (column, words)), index|
    define_method("test_mistake_#{index}") do
      mistake = assert_raises(Clause::Mistake, text) { clause(text) }
      assert_equal [column, true], [mistake.column, mistake.message.include?(words)],
                   "#{text}: #{mistake.column} #{mistake.message}"
    end
  end

  def test_a_suggestion_for_a_misspelt_field
    assert_equal("duration_ms", assert_raises(Clause::Mistake) { clause("sum(durationms)") }.suggestion)
  end

  # However values are dealt out to those who gather, they come to the same.
  def test_gatherings_can_be_put_together_in_any_way
    random = Random.new(8)
    values = Array.new(300) { random.rand(40) }
    expected = {
      "count" => 300, "sum" => values.sum, "min" => values.min, "max" => values.max, "distinct" => values.uniq.size,
      "avg" => values.sum / 300.0, "p50" => values.sort[149, 2].sum / 2.0
    }
    expected.each do |name, result|
      way = Aggregate::ALL.fetch(name)
      parts =
        values
          .group_by { random.rand(5) }
          .values
          .map { |part| part.reduce(way.start.call) { |state, value| way.add.call(state, value) } }
      together =
        parts
          .map { |part| Marshal.load(Marshal.dump(part)) }
          .reduce(way.start.call) { |one, other| way.join.call(one, other) }
      assert_in_delta result, way.result.call(together), 1e-9, name
    end
  end

  def test_nothing_gathered_is_not_a_number
    assert_equal(
      {
        "count" => 0, "distinct" => 0, "sum" => nil, "min" => nil, "max" => nil, "avg" => nil, "p50" => nil,
        "p95" => nil, "p99" => nil
      }, Aggregate::ALL.transform_values { |way| way.result.call(way.start.call) }
    )
  end
end
