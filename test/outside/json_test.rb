# frozen_string_literal: true

require_relative "../test_helper"
require "json"
require "open3"

# The fields of JSON lines against the leaves that jq(1) finds in the same objects (`paths(scalars)`, jq manual, "paths"), and
# against the strings of RFC 8259 section 7.
class JsonTest < Northdrift::StoreTest
  include Northdrift

  LEAVES = '[paths(type != "object" and type != "array" and type != "null") as $p | [($p | map(tostring) | join(".")), getpath($p)]]'
  # None of them is a name that a reader understands.
  NAMES = ["alpha", "be ta", "gämma", "δ", "e/f", "g\"h", "quay", "UPPER", "n-1", "_x", "émoji\u{1F6A2}", "0"].freeze
  # RFC 8259, section 7: every way to write a character, and section 6: numbers.
  STRINGS = ["plain", "", "two words", "quo\"te", "back\\slash", "tab\tand\nfeed", "ünïcode ⚓", "\u{1F6A2}", "a=b c=d", "{\"in\":1}", "null", "12", "x" * 300].freeze
  NUMBERS = ["0", "-1", "12.5", "1e3", "1E-2", "123456789012345", "-0.25", "3.0"].freeze

  # @return [String] JSON of a value, as programs write it: with blanks, and with characters escaped or not
  def written(random, depth)
    case random.rand(depth.positive? ? 10 : 7)
    when 0..2 then string(random, STRINGS.sample(random: random))
    when 3, 4 then NUMBERS.sample(random: random)
    when 5 then %w[true false].sample(random: random)
    when 6 then "null"
    when 7 then "[#{Array.new(random.rand(0..4)) { written(random, depth - 1) }.join(', ')}]"
    else object(random, depth - 1)
    end
  end

  def object(random, depth)
    names = NAMES.sample(random.rand(1..5), random: random)
    "{#{names.map { |name| "#{string(random, name)}:#{' ' * random.rand(2)}#{written(random, depth)}" }.join(',')}}"
  end

  def string(random, text) = random.rand(2).zero? ? JSON.generate(text) : JSON.generate(text, ascii_only: true, script_safe: true)

  # @return [Array<Array>] names and values of each line
  def leaves(lines)
    output, status = Open3.capture2("jq", "-c", LEAVES, stdin_data: lines.join("\n"))
    assert_predicate status, :success?
    output.each_line.map { |line| JSON.parse(line) }
  end

  def test_leaves_are_fields
    random = Random.new(11)
    lines = Array.new(1500) { object(random, 3) }
    leaves(lines).zip(lines) do |expected, line|
      event = read(line)
      assert_equal :json, event.reader, line
      fields = event.fields.transform_values { |value| value.is_a?(String) ? Text.utf8(value) : value }
      assert_equal expected.to_h, fields, line
    end
  end

  # As they are stored and asked for, with their types.
  def test_what_is_stored_of_them
    random = Random.new(12)
    lines = Array.new(60) { object(random, 2) }.uniq
    import_text("#{lines.join("\n")}\n")
    events = question.to_enum(:each).to_h { |event| [event.raw.dup.force_encoding(Encoding::UTF_8), event] }
    leaves(lines).zip(lines) do |expected, line|
      fields = events.fetch(line).fields
      expected.each { |name, value| value.nil? ? refute(fields.key?(name), line) : assert_equal(value, fields[name], "#{name} of #{line}") }
    end
  end
end
