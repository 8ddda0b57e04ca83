# frozen_string_literal: true

require_relative "../test_helper"

class FormatsTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  EXAMPLES = Northdrift::Examples::ALL

  EXAMPLES.each_with_index do |(line, expected), index|
    define_method("test_example_#{index}_#{expected.first}") do
      event = read(line)
      reader, time, severity, machine, service, message, fields = expected
      assert_equal(
        [reader, time, severity, machine, service, message],
        [
          event.reader, event.time.strftime("%Y-%m-%dT%H:%M:%S.%6NZ"), Severity.name(event.severity), event.machine,
          event.service, Text.utf8(event.message)
        ].map { |value| value }
      )
      fields.each { |name, value| assert_equal value, event.fields[name], name }
    end
  end

  # RFC 5424, section 6: what keeps its form, and what does not and is read as something wider.
  {
    "<0>1 - - - - - -" => true, "<191>1 2026-11-22T06:12:08Z h a p m - x" => true, "<13>1 - - - - - [a@1] x" => true,
    '<13>1 - - - - - [a@1 k="v"][b@1] x' => true, "<13>1 - #{'h' * 255} - - - - x" => true,
    "<13>1 - #{'h' * 256} - - - - x" => false, "<192>1 - - - - - - x" => false, "<0134>1 - - - - - - x" => false,
    "<x>1 - - - - - - x" => false, "<13>2 - - - - - - x" => false, "<>1 - - - - - - x" => false,
    "<13>1 - - - - -" => false, "<13>1 -  - - - - x" => false, "<13>1 noon - - - - - x" => false,
    "<13>1 2026-13-40T06:12:08Z - - - - - x" => false, "<13>1 - - - - - x y" => false, "<13>1 - - - - -  x" => false,
    "<13>1 - - - - - [a@1 k=v] x" => false, '<13>1 - - - - - [a@1 k="v] x' => false,
    '<13>1 - - - - - [a@1 k="]"] x' => false, '<13>1 - - - - - [a@1 k="v"]x' => false, "a <13>1 - - - - - - x" => false
  }.each_with_index do |(line, kept), index|
    define_method("test_rfc5424_form_#{index}") do
      event = read(line)
      assert_equal kept, event.reader == :rfc5424, "#{line} was read as #{event.reader}"
      assert_equal line, event.raw
    end
  end

  def test_what_was_inferred_is_told
    assert_empty read("2026-11-22T06:12:08Z x").inferred
    assert_equal %i[zone], read("2026-11-22 06:12:08 x").inferred
    assert_equal %i[year zone], read("Nov 22 06:14:26 h t: x").inferred
    assert_equal %i[time], read("nothing").inferred
  end

  def test_a_missing_zone_comes_from_the_setting
    assert_equal "2026-11-22 05:12:08 UTC", read("2026-11-22 06:12:08 x", zone: "Europe/Oslo").time.to_s
    assert_equal "2026-07-22 04:12:08 UTC", read("2026-07-22 06:12:08 x", zone: "Europe/Oslo").time.to_s
  end

  def test_a_missing_year_is_found_across_new_year
    january = Time.utc(2027, 1, 2, 8)
    assert_equal 2026, read("Dec 31 23:59:59 h t: x", reference: january).time.year
    assert_equal 2027, read("Jan  1 00:00:01 h t: x", reference: january).time.year
    assert_equal 2024, read("Feb 29 10:00:00 h t: x", reference: january).time.year
  end

  def test_an_impossible_time_is_no_time
    assert_equal :plain, read("2026-02-31 06:12:08 x").reader
    assert_equal :plain, read("2026-11-22 26:12:08 x").reader
  end

  def test_severity_tells_its_rule
    assert_equal "PRI 165: severity 5 of RFC 5424", read("<165>1 - - - - - - x").severity_rule
    assert_equal "level word “error”", read('{"level":"error","msg":"x"}').severity_rule
    assert_equal "word “refused” in the message", read("2026-11-22T06:12:08Z connection refused by peer").severity_rule
  end

  def test_a_record_without_a_message_is_shown_as_it_stands
    line = '{"time":"2026-11-22T06:12:08Z","voltage":3.1,"pump":"north"}'
    assert_equal [line, 3.1], [read(line).message, read(line).fields["voltage"]]
    assert_equal "level=info pump=north", read("level=info pump=north").message
    assert_equal "GET / HTTP/1.1",
                 read('{"time":"2026-11-22T06:12:08Z","request":"GET / HTTP/1.1","status":200}').message
  end

  # A time under a name of its own, and a number or a word that is none.
  # Log4j manual, JSON Layout
  def test_a_time_in_two_numbers
    event = read('{"instant":{"epochSecond":1795327928,"nanoOfSecond":123456000},"thread":"main","level":"ERROR",' \
                 '"loggerName":"hall.Seats","message":"no seat"}')
    assert_equal [Time.at(1_795_327_928, 123_456, :usec, in: "UTC"), "hall.Seats", "main"],
                 [event.time, *event.fields.values_at("logger.name", "thread.name")]
  end

  def test_a_time_under_any_name_that_says_so
    assert_equal "2026-11-22 05:12:08 UTC", read('{"msg":"x","time_iso8601":"2026-11-22T06:12:08+01:00"}').time.to_s
    assert_equal "2026-11-22 06:12:08 UTC", read('{"msg":"x","time":0.25,"logDate":"2026-11-22 06:12:08"}').time.to_s
    assert_equal %i[time],
                 read(
                   '{"msg":"x","request_time":0.25,"uptime":"1795327928","timezone":"Europe/Oslo or so, I think"}'
                 ).inferred
  end

  def test_hostile_names_are_shown_harmlessly
    event = read("{\"level\":\"info\",\"msg\":\"x\",\"host\":\"a\\u001b[31m\",\"k\\u202ey\":1}")
    assert_equal "a\\x1B[31m", event.machine
    assert_includes event.fields.keys, "k\\u{202E}y"
  end
end
