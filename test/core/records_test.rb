# frozen_string_literal: true

require_relative "../test_helper"

class RecordsTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  TRACES = {
    java:
      "2026-11-22 06:12:08 ERROR pool - failed\njava.lang.IllegalStateException: empty\n\tat " \
      "a.b.C.d(C.java:1)\n\t... 3 more\nCaused by: java.io.IOException: x\n\tat e.f(G.java:2)\n",
    python: "Traceback (most recent call last):\n  File \"a.py\", line 1, in <module>\n    boom()\nValueError: no\n",
    go: "panic: runtime error\n\ngoroutine 1 [running]:\nmain.main()\n\t/src/main.go:4 +0x1d\nexit status 2\n",
    ruby: "Nov 22 06:12:08 h app[1]: a.rb:1:in `x': no (RuntimeError)\n\tfrom a.rb:2:in `y'\n",
    dot_net:
      "2026-11-22T06:12:08Z Unhandled exception. System.Exception: a\n ---> System.IO.IOException: b\n   at A.B() " \
      "in C.cs:line 1\n   --- End of inner exception stack trace ---\n"
  }.freeze

  TRACES.each do |language, text|
    define_method("test_a_#{language}_trace_is_one_record") do
      events = records(text)
      assert_equal 1, events.size, events.map(&:raw).inspect
      assert_equal text, whole(events)
    end
  end

  def test_lines_without_a_stamp_belong_to_the_one_before_that_has_it
    events = records("a\n2026-11-22 06:12:08 one\nmore of it\n\n2026-11-22 06:12:09 two\nb\n")
    assert_equal ["a", "2026-11-22 06:12:08 one\nmore of it\n", "2026-11-22 06:12:09 two\nb"], events.map(&:raw)
    assert_equal "one\nmore of it", events[1].message, "an empty line says nothing"
    assert_equal [1, 2, 5], events.map(&:line_number)
    assert_equal [0, 2, 38], events.map(&:offset)
  end

  # An exception belongs to the line that has its level, though neither has a time; two are two.
  def test_exceptions_behind_lines_without_a_time
    exception = "java.lang.IllegalStateException: x\n\tat a.b.C.d(C.java:1)\n"
    assert_equal ["[main] ERROR a.b.C - failed\n#{exception.chomp}"],
                 records("[main] ERROR a.b.C - failed\n#{exception}").map(&:raw)
    assert_equal 2, records(exception * 2).size
  end

  # As tracing-subscriber's form `pretty` has it
  def test_records_that_begin_with_blanks
    text =
      ["  2026-11-22T06:12:08Z  INFO hall: open", "    at src/main.rs:12", "",
       "  2026-11-22T06:12:09Z ERROR hall: no seat", "    at src/main.rs:13", ""].join("\n")
    assert_equal(["INFO hall: open\n    at src/main.rs:12", "ERROR hall: no seat\n    at src/main.rs:13"],
                 records(text).map(&:message))
    assert_equal text, whole(records(text))
  end

  def test_a_text_below_a_time_alone
    event = records("2026-11-22T06:12:08.123456+00:00\nErrors in file /srv/hall.trc:\nHALL-00600: gone\n").first
    assert_equal ["Errors in file /srv/hall.trc:\nHALL-00600: gone", "error"],
                 [event.message, Severity.name(event.severity)]
  end

  def test_plain_lines_stand_alone
    assert_equal 3, records("one\ntwo\nthree").size
  end

  def test_windows_events_in_a_list_and_run_together
    one =
      "<Event><System><Provider Name='A'/><EventID>1</EventID><Level>4</Level><TimeCreated " \
      "SystemTime='2026-11-22T06:00:00Z'/></System></Event>"
    text = "<?xml version=\"1.0\"?>\n<Events>\n#{one}#{one}\r\n#{one.gsub('><', ">\n<")}\n</Events>\n"
    events = records(text)
    assert_equal(3, events.count { |event| event.reader == :windows_event })
    assert_equal text.b, whole(events)
  end

  def test_one_source_may_mix_formats
    text = Northdrift::Examples::ALL.keys.join("\n")
    assert_equal Northdrift::Examples::ALL.values.map(&:first).first(14), records(text).map(&:reader).first(14)
  end

  def test_a_record_is_at_most_a_mebibyte_and_says_so_when_split
    text = "2026-11-22 06:12:08 start\n#{"\tmore #{'x' * 1000}\n" * 2500}"
    events = records(text)
    assert_equal text.b, whole(events)
    assert_operator events.map { |event| event.raw.bytesize }.max, :<=, 1 << 20
    assert_equal "longer than 1 MiB: split here", events.first.note
    assert_equal [events.first.time_us], events.map(&:time_us).uniq
  end

  def test_ten_megabytes_without_a_line_end
    text = "x" * 10_000_000
    events = records(text, chunk: 1 << 18)
    assert_equal text.b, whole(events)
    assert_equal [1], events.map(&:line_number).uniq
  end

  def test_random_bytes_come_back_whole
    random = Random.new(42)
    20.times do |round|
      text = random.bytes(60_000)
      text.gsub!(/[a-z]/n, "\n") if round.odd?
      assert_equal text, whole(records(text, chunk: 1 + random.rand(9000)))
    end
  end

  # Each format with each of its lines cut off at every position: nothing breaks, nothing is lost.
  Northdrift::Examples::ALL.each_key.with_index do |line, index|
    define_method("test_example_#{index}_cut_off_anywhere") do
      (0..line.bytesize).each do |cut|
        text = "#{line}\n".b + line.b.byteslice(0, cut) + "\n".b + line.b.byteslice(cut, line.bytesize)
        assert_equal text, whole(records(text))
      end
    end
  end

  def test_chunks_make_no_difference
    text = Northdrift::Examples::ALL.keys.join("\r\n")
    whole_at_once = records(text).map(&:to_a)
    [1, 7, 100].each { |size| assert_equal whole_at_once, records(text, chunk: size).map(&:to_a) }
  end

  # RFC 8259, sections 2 and 7: what stands in a string ends nothing, wherever the lines are cut.
  def test_objects_of_one_text_with_strings_over_lines
    text = %([\n{"a":"}\\\\","b":["]",{"c":1}]},\n{"a":"x\\\ny}"}\n,{"a":3}\n]\n)
    [1, 2, 3, 7, 100].each do |chunk|
      events = records(text, chunk: chunk)
      assert_equal text, whole(events)
      assert_equal 3, events.size, chunk
    end
    assert_equal ["[", "a", "{\"b\":1}"], records("[\na\n{\"b\":1}\n").map(&:raw)
  end

  # systemd's "Journal Export Format": a value with its length before it may hold anything, an empty line too.
  def test_an_entry_with_empty_lines_in_a_value
    value = "one\n\n\nM=two\n"
    text =
      "__CURSOR=a\n__REALTIME_TIMESTAMP=1795327928000000\nMESSAGE\n".b + [value.bytesize].pack("Q<") + value + "\nA=b" \
                                                                                                               "\nA=c" \
                                                                                                               "\n\n"
    [1, 5, 64, 1000].each do |chunk|
      events = records(text * 2, chunk: chunk)
      assert_equal [value, value], events.map(&:message)
      assert_equal text * 2, whole(events)
      assert_equal %w[b c], events.first.fields.values_at("journal.a", "journal.a.1")
    end
  end

  # RFC 8259, section 9: a parser may limit how deep texts are nested.
  def test_json_as_deep_as_programs_write_it
    deep = ->(depth) { Reading::Json.parse("#{'{"a":' * depth}1#{'}' * depth}") }
    assert_kind_of Hash, deep.call(400)
    assert_nil deep.call(600)
    assert_equal({ "a" => "{" * 1000 }, Reading::Json.parse(%({"a":"#{'{' * 1000}"})))
  end
end
