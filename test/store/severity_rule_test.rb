# frozen_string_literal: true

require_relative "../test_helper"

# The inspector names the rule that set a record's severity, or none.
class SeverityRuleTest < Northdrift::StoreTest
  include Northdrift

  # Texts of a source, and the rules that set the severities of its records.
  TOLD = {
    "Nov 22 06:14:00 quay app: disk failed\n" => ["word “failed” in the message"],
    "{\"time\":\"2026-11-22T06:14:00Z\",\"level\":\"warn\",\"msg\":\"disk failed\"}\n" => ["level word “warn”"],
    # The line with the time alone has no severity; the text below it has.
    "Nov 22, 2026 6:14:00 AM org.quay.Crane lift\nSEVERE: no power\n" => ["level word “SEVERE”"],
    # What a column means is told by the first line of the source alone.
    "time,level,message\n2026-11-22T06:14:00Z,error,one\n2026-11-22T06:15:00Z,notice,two\n" =>
      [nil, "level word “error”", "level word “notice”"]
  }.freeze

  def rules
    question
      .to_enum(:each)
      .sort_by(&:line)
      .map { |event| Store::SeverityRule.of(event, Store::Source.find(event.source_id)) }
  end

  TOLD.each_with_index do |(text, told), index|
    define_method("test_reader_#{index}") do
      import_text(text)
      # A line of names has no severity to tell a rule of.
      assert_equal told.compact, rules.last(told.compact.size)
    end
  end

  def test_a_parser_that_set_it_is_named_and_one_that_did_not_is_not
    rule =
      Store::ParserRule.create!(
        name: "grades", pattern: '^grade (?P<grade>\w+)(?: of (?P<of>\w+))?', created_us: 1, changed_us: 1,
        types: Oj.dump({ "grade" => "severity" }, mode: :strict)
      )
    import_text("Nov 22 06:14:00 quay app: grade err of Monday\nNov 22 06:14:01 quay app: grade nine, failed\n")
    assert_equal ["parser “grades”", "word “failed” in the message"], rules
    rule.update!(pattern: '^(?P<grade>grade) \w+')
    assert_equal [nil, "word “failed” in the message"], rules
  end
end
