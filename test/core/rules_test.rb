# frozen_string_literal: true

require_relative "../test_helper"

# People's own rules: parsers and noise rules.
class RulesTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  NOW_US = 1_795_000_000_000_000

  def set(parsers: [], noise: [])
    Rules::Set.new(
      "parsers" => parsers.map { |values| values.transform_keys(&:to_s) },
      "noise" => noise.map { |values| values.transform_keys(&:to_s) }
    )
  end

  # @return [Array(Event, Integer)] the event, and the noise rule that takes it
  def applied(line, rules)
    event = read(line)
    [event, rules.apply(event, "test", Reading::Clock.new(reference_us: NOW_US), NOW_US)]
  end

  def test_a_parser_takes_typed_fields
    rules =
      set(
        parsers: [
          {
            id: 1,
            pattern: 'crane (?P<crane>\w+) lifted (?P<load_kg>[\d.]+) kg in (?P<seconds>\d+) s for (?P<user>\S+)',
            types: { "load_kg" => "number", "seconds" => "whole" }
          }
        ]
      )
    event, = applied("Nov 22 06:14:26 quay craned: crane four lifted 812.5 kg in 41 s for ida", rules)
    assert_equal({ "crane" => "four", "load_kg" => 812.5, "seconds" => 41, "user.name" => "ida" }, event.fields)
    other, = applied("Nov 22 06:14:26 quay craned: crane four stands", rules)
    assert_empty other.fields
  end

  def test_a_parser_tells_time_severity_machine_service_and_message
    rules =
      set(
        parsers: [
          {
            id: 2, pattern: '^(?P<at>\S+)\|(?P<level>\w+)\|(?P<host>\w+)/(?P<unit>\w+)\|(?P<text>.*)',
            types: {
              "at" => "time", "level" => "severity", "host" => "machine", "unit" => "service", "text" => "message"
            }
          }
        ]
      )
    event, = applied("2026-11-22T06:12:08Z|error|alder/pump|pressure low", rules)
    assert_equal ["2026-11-22 06:12:08 UTC", "error", "alder", "pump", "pressure low", true],
                 [
                   event.time.to_s, Severity.name(event.severity), event.machine, event.service, event.message,
                   event.stamped
                 ]
  end

  def test_the_first_parser_that_matches_stands_and_its_condition_holds
    rules =
      set(
        parsers: [
          { id: 1, pattern: "(?P<a>x+)", find: "host.name = birch" }, { id: 2, pattern: "(?P<b>x+)" },
          { id: 3, pattern: "(?P<c>x+)" }
        ]
      )
    assert_equal({ "a" => "xx" }, applied("Nov 22 06:14:26 birch t: xx", rules).first.fields)
    assert_equal({ "b" => "xx" }, applied("Nov 22 06:14:26 alder t: xx", rules).first.fields)
  end

  {
    "pattern" => [{ pattern: "(?P<a>x" }, { pattern: "no groups" }],
    "types" => [{ pattern: "(?P<a>x)", types: { "a" => "colour" } }], "find" => [{ pattern: "(?P<a>x)", find: "((" }]
  }.each do |part, wrong|
    wrong.each_with_index do |values, index|
      define_method("test_a_mistake_in_#{part}_is_told_#{index}") do
        assert_equal part, assert_raises(Rules::Mistake) { Rules::Parser.new(**values) }.part
      end
    end
  end

  def test_what_a_noise_rule_takes
    rules = set(noise: [{ id: 7, find: "heartbeat and severity >= notice", action: "drop" }])
    assert_equal 7, applied("<13>Nov 22 06:14:26 alder t: heartbeat 4", rules).last
    assert_nil applied("<13>Nov 22 06:14:26 alder t: heart", rules).last
    assert_nil applied("<14>Nov 22 06:14:26 alder t: heartbeat 4", rules).last
  end

  def test_conditions_on_what_people_say_of_a_machine
    noise = [{ "id" => 7, "find" => "host.role = turnstile and host.tags = spare", "action" => "drop" }]
    parsers = [{ "id" => 1, "pattern" => "(?P<a>x+)", "find" => "host.site = quay" }]
    said = {
      "alder" => { "host.role" => "turnstile", "host.tags" => %w[old spare], "host.site" => "quay" },
      "birch" => { "host.role" => "turnstile" }
    }
    rules = Rules::Set.new("noise" => noise, "parsers" => parsers, "fleet" => said)
    event, rule = applied("Nov 22 06:14:26 alder t: xx", rules)
    assert_equal [{ "a" => "xx" }, 7], [event.fields, rule]
    event, rule = applied("Nov 22 06:14:26 birch t: xx", rules)
    assert_equal [{}, nil], [event.fields, rule]
    assert_equal [nil, 7],
                 [
                   applied("Nov 22 06:14:26 alder t: host.role=kiosk", rules).last,
                   applied("Nov 22 06:14:26 alder t: host.role=turnstile", rules).last
                 ], "the line's own word stands"
  end

  def test_one_in_so_many_is_kept
    rules = set(noise: [{ id: 7, find: "heartbeat", action: "thin", keep: 5 }])
    kept = (1..23).reject { |number| applied("Nov 22 06:14:26 alder t: heartbeat #{number}", rules).last }
    assert_equal [1, 6, 11, 16, 21], kept
  end

  def test_a_rule_that_names_a_pattern_and_one_that_has_expired
    rules =
      set(
        noise: [
          { id: 1, find: "pattern = P4", action: "drop", patterns: { "P4" => "gate … held for … s" } },
          { id: 2, find: "gate", action: "drop", expires_us: NOW_US }
        ]
      )
    assert_equal 1, applied("Nov 22 06:14:26 alder t: gate 7 held for 30 s", rules).last
    assert_nil applied("Nov 22 06:14:26 alder t: gate 7 opened", rules).last
  end
end
