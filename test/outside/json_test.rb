# frozen_string_literal: true

require_relative "../test_helper"
require "json"
require "open3"

# The fields of JSON lines against the leaves that jq(1) finds in the same objects (`paths(scalars)`, jq manual,
# "paths"), and against the strings of RFC 8259 section 7.
class JsonTest < Northdrift::StoreTest
  include Northdrift

  LEAVES =
    '[paths(type != "object" and type != "array" and type != "null") as $p | [($p | map(tostring) | join(".")), ' \
    "getpath($p)]]"
  # None of them is a name that a reader understands.
  NAMES = ["alpha", "be ta", "gämma", "δ", "e/f", "g\"h", "quay", "UPPER", "n-1", "_x", "émoji\u{1F6A2}", "0"].freeze
  # RFC 8259, section 7: every way to write a character, and section 6: numbers.
  STRINGS = [
    "plain", "", "two words", "quo\"te", "back\\slash", "tab\tand\nfeed", "ünïcode ⚓", "\u{1F6A2}", "a=b c=d",
    "{\"in\":1}", "null", "12", "x" * 300
  ].freeze
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

  def string(random, text)
    random.rand(2).zero? ? JSON.generate(text) : JSON.generate(text, ascii_only: true, script_safe: true)
  end

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
      expected.each do |name, value|
        value.nil? ? refute(fields.key?(name), line) : assert_equal(value, fields[name], "#{name} of #{line}")
      end
    end
  end

  # One text with many objects, as jq(1) and Python's json.tool print it: each object is a record, read as on a line of
  # its own, and nothing of the text is left out, however it comes.
  {
    "a list for people" => %w[jq -s .], "a list on one line" => %w[jq -s -c .], "objects for people" => %w[jq .],
    "with tabs" => %w[jq --tab -s .],
    "a list within an object" => ["jq", "-s", '{events: ., nextToken: "abc", more: {a: [1]}}'],
    "a list by Python" => [
      "python3", "-c",
      "import json,sys; print(json.dumps([json.loads(l) for l in sys.stdin], indent=4, ensure_ascii=False))"
    ]
  }.each do |name, command|
    define_method("test_#{name.tr(' ', '_')}") do
      random = Random.new(name.size)
      lines =
        Array.new(120) do |index|
          "{#{%("time":"2026-11-22T06:12:#{format('%02d', index % 60)}Z","msg":"object #{index} {[\\"]}",)}" \
            "#{object(random, 2)[1..]}"
        end
      text, status = Open3.capture2(*command, stdin_data: lines.map { |line| "#{line}\n" }.join)
      assert_predicate status, :success?
      told = ->(events) { events.map { |event| [event.reader, event.time_us, event.message, event.fields] } }
      # Programs may write a number otherwise than it came.
      expected = told.call(records(JSON.parse("[#{lines.join(',')}]").map { |one| JSON.generate(one) }.join("\n")))
      [1 << 16, 61].each do |chunk|
        found = records(text, chunk: chunk)
        assert_equal text.b, whole(found)
        assert_equal expected.size, found.size
        assert_equal(expected.map { |values| values[0, 3] }, told.call(found).map { |values| values[0, 3] })
        expected.zip(told.call(found)) { |one, other| assert_equal one[3].keys, other[3].keys }
        assert_equal(found.map { |event| text.b.byteslice(0, event.offset).count("\n") + 1 }, found.map(&:line_number))
      end
    end
  end

  # A list of more than a segment, imported.
  def test_a_long_list_is_imported
    lines =
      Array.new(9000) do |index|
        JSON.generate("time" => "2026-11-22T06:12:08Z", "msg" => "object #{index}", "filling" => "x" * 40)
      end
    text, = Open3.capture2("jq", "-s", ".", stdin_data: lines.join("\n"))
    assert_operator text.bytesize, :>, 1 << 20
    assert_equal 9000, import_text(text, name: "list.json").events
    assert_equal [9000, 1], [question("reader = json").total, question('"object 8999"').total]
    assert_equal text.b,
                 question
                   .to_enum(:each)
                   .sort_by { |event| event.message[/\d+/].to_i }
                   .map { |event| event.raw + event.kind.traits["ending"] }
                   .join
  end

  # What is cut, or no such text at all, is given out line by line.
  def test_what_is_no_such_text
    {
      "[\n {\"msg\":\"a\"},\n {\"msg\":" => %i[json plain], "[\n {\"msg\":\"a\"},\nnonsense\n" => %i[json plain],
      "[\nnonsense\n]\n" => [:plain] * 3, "[" => [:plain], "{\n" => [:plain],
      "[2026-11-22 06:12:08] a\n[2026-11-22 06:12:09] b\n" => [:stamped] * 2, "[{}]" => [:json],
      "[{},\n{}]" => [:json] * 2, "[{}] x\n" => %i[json plain]
    }.each do |text, readers|
      found = records(text)
      assert_equal [readers, text.b], [found.map(&:reader), whole(found)], text
    end
  end

  # As PowerShell's ConvertTo-Json writes events of Windows (from memory): times of .NET, and the level as a number and
  # as a word.
  def test_events_of_windows_as_json
    rows = [
      "[", "    {", '        "Id":  7031,', '        "Level":  2,',
      '        "ProviderName":  "Service Control Manager",', '        "MachineName":  "till-1",',
      '        "TimeCreated":  "\\/Date(1795327928417)\\/",', '        "LevelDisplayName":  "Error",',
      '        "Message":  "The Spooler service terminated unexpectedly."', "    }", "]"
    ]
    text = rows.map { |row| "#{row}\r\n" }.join
    event, = found = records(text)
    assert_equal [1, text.b], [found.size, whole(found)]
    assert_equal [
      Time.utc(2026, 11, 22, 6, 12, 8, 417_000), "error", "till-1", "Service Control Manager",
      "The Spooler service terminated unexpectedly.", 2
    ],
                 [
                   event.time, Severity.name(event.severity), event.machine, event.service, event.message,
                   event.fields["level.number"]
                 ]
  end

  # Requests of OpenTelemetry with several log records each, printed by jq(1): every record is one, and says where it
  # stands.
  def test_requests_of_opentelemetry_for_people
    logs = lambda do |request|
      Array.new(3) do |index|
        { timeUnixNano: "1795327928000000000", severityNumber: 9, body: { stringValue: "record #{request}.#{index}" } }
      end
    end
    requests =
      Array
        .new(2) { |index| JSON.generate(resourceLogs: [{ scopeLogs: [{ logRecords: logs.call(index) }] }]) }
        .join("\n")
    [["jq", "."], ["jq", "-s", "."], ["jq", "-c", "."]].each do |command|
      text, = Open3.capture2(*command, stdin_data: requests)
      found = records(text)
      assert_equal [text.b, Array.new(6) { |index| "record #{index / 3}.#{index % 3}" }, [:otlp_json]],
                   [whole(found), found.map(&:message), found.map(&:reader).uniq], command.join(" ")
      found.each do |event|
        assert_equal [event.raw, text.b.byteslice(0, event.offset).count("\n") + 1],
                     [text.b.byteslice(event.offset, event.raw.bytesize), event.line_number]
      end
    end
  end
end
