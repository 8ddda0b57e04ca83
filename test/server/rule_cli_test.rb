# frozen_string_literal: true

require_relative "../test_helper"
require "json_schemer"
require "open3"

# Alert rules as files, on the command line.
class RuleCliTest < Northdrift::StoreTest
  include Northdrift

  FILE = <<~YAML
    rules:
      - name: Many refused
        severity: warning
        when: {count: {find: refused, at_least: 3, within: 1min, by: [host.name]}}
      - name: Then in
        when: {sequence: {first: refused, at_least: 2, then: welcome, within: 5min}}
  YAML

  def setup
    super
    lines = %w[refused refused refused welcome].each_with_index.map do |word, at|
      "2026-11-22T06:00:0#{at}Z alder app: #{word} #{at}\n"
    end
    import_text(lines.join)
  end

  def run_cli(*arguments)
    ActiveRecord::Base.connection_handler.clear_all_connections!
    said, status = Open3.capture2e(File.join(ROOT, "bin/northdrift"), "rule", *arguments, "--data", @data)
    Store::Database.open(@data)
    [said, status.exitstatus]
  end

  def test_files_are_tried_taken_in_listed_and_given_out
    file = write("rules.yml", FILE)
    assert_equal [<<~TEXT, 0], run_cli("try", file)
      Many refused: 1 alerts of 3 lines
        2026-11-22T06:00:02Z  0 s  alder
      Then in: 1 alerts of 4 lines
        2026-11-22T06:00:03Z  0 s#{'  '}
    TEXT
    assert_equal 0, Store::AlertRule.count
    assert_equal ["2 rules\n", 0], run_cli("import", file)
    assert_equal ["1\toff\tMany refused\t0 open\n2\toff\tThen in\t0 open\n", 0], run_cli("list")
    said, = run_cli("export")
    assert_equal YAML.safe_load(FILE), YAML.safe_load(said)
    write("rules.yml", FILE.sub("at_least: 3", "at_least: 4"))
    run_cli("import", file, "--on")
    assert_equal([4, 2], Store::AlertRule.present.map { |one| one.rule.least })
    assert_equal "northdrift rule import", Store::AuditTrail.latest(1).first.action
    assert_equal 1, JSON.parse(run_cli("try", file, "--as", "json").first.lines.last)["alerts"].size
  end

  def test_a_mistake_says_where_and_nothing_is_taken_in
    {
      FILE.sub("1min", "soon") => /rules.yml: Many refused: within is a time from 1s to 7d/,
      FILE.sub("first:", "frist:") => /rules.yml: Then in: sequence has no “frist”/,
      "rules: [7]" => /a rule has names and values/, "a: [" => /rules.yml: /
    }.each do |text, told|
      said, status = run_cli("import", write("rules.yml", text))
      assert_equal 2, status
      assert_match told, said
    end
    assert_match(/No such file/, run_cli("try", "nowhere.yml").first)
    assert_equal 0, Store::AlertRule.count
    assert_match(/there is no alert rule 7/, run_cli("export", "7").first)
  end

  # JSON Schema, draft 2020-12, as the json_schemer gem reads it.
  def test_the_schema_that_is_published_is_the_one_that_holds
    schema = JSON.parse(File.read(File.join(ROOT, "docs/alert-rule.schema.json")))
    document = JSON.parse(File.read(File.join(ROOT, "docs/openapi.json")))
    held = document.dig("components", "schemas", "AlertRuleDefinition")
    assert_equal held, schema.slice(*held.keys)
    judge = JSONSchemer.schema(schema)
    all = YAML.safe_load(FILE)["rules"] + Watch::Catalogue.families.flat_map(&:rules)
    all.each { |one| assert_empty judge.validate(one).to_a, one["name"] }
    refute judge.valid?({ "name" => "x", "when" => { "never" => {} } })
  end
end
