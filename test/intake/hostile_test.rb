# frozen_string_literal: true

require_relative "../test_helper"

# Whoever writes a line decides about its bytes. Lines of every format, damaged at random places with what is most
# likely to do harm, must neither stop an import nor lose a byte.
class HostileTest < Northdrift::StoreTest
  include Northdrift
  include Northdrift::Packing

  STAMP = "2026-11-22T06:12:08.417Z"
  SAMPLES = [
    "<13>1 #{STAMP} host app 12 id [origin software=\"x\" ip=\"10.0.0.1\"][a@1 b=\"c \\\"d\\\"\"] message k=v\n",
    "<34>Nov 22 06:12:08 host su[12]: 'su root' failed for ida on /dev/pts/8\n",
    "Nov 22 06:12:08 host app: user=ida took=35ms\n",
    "10.0.0.1 - ida [22/Nov/2026:06:12:08 +0000] \"GET /a?b=c HTTP/1.1\" 200 512 \"-\" \"agent/1\"\n",
    "{\"time\":\"#{STAMP}\",\"level\":\"warn\",\"msg\":\"m\",\"user\":{\"name\":\"ida\"},\"list\":[1,2.5,null,true]}\n",
    "ts=#{STAMP} level=info host=a msg=\"two words\" took=9ms\n",
    "#{STAMP} ERROR main: it failed\n\tat a.b(C.java:1)\nCaused by: d\n",
    "type=SYSCALL msg=audit(1763791928.417:12): arch=c000003e syscall=59 success=yes comm=\"ls\"\n",
    "[   12.345678] usb 1-1: new device\n", "#{STAMP} stdout F a container's line\n",
    "<189>12: *Nov 22 06:12:08.417: %LINK-3-UPDOWN: Interface Gi0/1, changed state to down\n",
    "2026-11-22 06:12:08 upgrade libc6:amd64 2.36-9 2.36-10\n",
    "Start-Date: 2026-11-22  06:12:08\nCommandline: apt upgrade\nEnd-Date: 2026-11-22  06:12:09\n",
    "2026-11-22 06:12:08.417 UTC [12] ida@db ERROR:  syntax error at or near \"x\"\n",
    "[Sun Nov 22 06:12:08.417000 2026] [core:error] [pid 12] [client 10.0.0.1:5] AH0: no file\n",
    "#Fields: date time s-ip cs-method sc-status\n2026-11-22 06:12:08 10.0.0.1 GET 200\n",
    "time,level,message,rest\n#{STAMP},info,\"a, b\",x\n",
    "E, [2026-11-22T06:12:08.417000 #12] ERROR -- app: it failed\n-e:1:in `<main>'\n",
    "hall:80 10.0.0.1 - ida [22/Nov/2026:06:12:08 +0000] \"GET / HTTP/1.1\" 500 -\n",
    "{\"timestamp\":\"2026-11-22 06:12:08.417 CET\",\"pid\":12,\"error_severity\":\"ERROR\",\"message\":\"m\"," \
    "\"detail\":\"d\"}\n",
    "Sun 2026-11-22 06:12:08 CET host app[12]: m\n", "ERROR 2026-11-22 06:12:08,417 main: m\n",
    "E1122 06:12:08.417000   12 a.go:7] it failed k=v\n", "E [22/Nov/2026:06:12:08 +0100] it failed\n",
    "Nov 22, 2026 6:12:08 AM hall.Seats open\nSEVERE: it failed\n\tat a.b(C.java:1)\n",
    "=ERROR REPORT==== 22-Nov-2026::06:12:08.417 ===\n    it failed\n",
    "[2026/11/22 06:12:08.417,  1] ../a.c:7(read)\n  it failed\n",
    "[22-Nov-2026 06:12:08 Europe/Oslo] PHP Notice:  x\n",
    "10.0.0.1:4444 [22/Nov/2026:06:12:08.417] web pages/p1 0/0/0/1/2 200 217 - - ---- 1/1/0/0/0 0/0 {a|b} \"GET / " \
    "HTTP/1.1\"\n",
    "10.0.0.1:4444 [22/Nov/2026:06:12:08.417] mail box/m1 1/-1/3006 0 SC 1/1/0/0/3 0/0\n",
    "1795327928.417 12 10.0.0.1 TCP_MISS/200 12 GET http://h/ - HIER_DIRECT/10.0.0.3 text/html\n",
    "<13>Nov 22 06:12:08 host nginx: 10.0.0.1 - - [22/Nov/2026:06:12:08 +0000] \"GET / HTTP/1.1\" 200 5\n",
    "261122  6:12:08\t    7 Query\tselect 1\n\t\t    7 Query\tselect 2\n",
    "# Time: 261122  6:12:08\n# User@Host: ida[ida] @ hall [10.0.0.1]\n# Query_time: 2  Lock_time: 0\nSET " \
    "timestamp=1795327928;\nselect 1;\n",
    "[\n  {\n    \"time\": \"#{STAMP}\",\n    \"msg\": \"a\"\n  },\n  {\"msg\": \"b\"}\n]\n",
    "{\n  \"events\": [\n    {\"msg\": \"a\"}\n  ],\n  \"next\": \"x\"\n}\n",
    "<Event><System><EventID>41</EventID><TimeCreated SystemTime='#{STAMP}'/></System></Event>\n",
    "__CURSOR=a\n__REALTIME_TIMESTAMP=1763791928417000\nMESSAGE=m\n\n",
    "#\n# A fatal error has been detected by the Java Runtime Environment:\n#\nHost: a, 4 cores\n\nEND.\n",
    "Event[0]:\n  Date: #{STAMP}\n  Level: Error\n  Description:\nit failed\n\n",
    "Sun 2026-11-22 06:12:08.417 UTC [s=a;i=1;b=a;m=1;t=1;x=1]\n    PRIORITY=3\n    MESSAGE=m\n        n\n",
    "{\"log\":\"a\\n\",\"stream\":\"stdout\",\"time\":\"#{STAMP}\"}\n", "{\"Records\":[{\"n\":1},{\"n\":2}]}\n",
    "RP/0/0/CPU0:Nov 22 06:12:08.417 UTC: a[1]: %LINK-3-UPDOWN : down\n", "Nov 22 06:12:08 hall err app[1]: m\n"
  ].map(&:b).freeze
  HARM = [
    "\xC3\xA4", "\xFF", "\x80", "\0", "\x01", "\e[31m", "\"", "'", "\\", "=", "[", "]", "{", "}", "<", ">", ":", ",",
    " ", "\t", "\r", "\u{202E}", "\u{E001}"
  ].map(&:b).freeze

  # @return [String] a text of some samples with up to six faults
  def damaged(random)
    text = SAMPLES.sample(random.rand(1..3), random: random).join
    random.rand(0..6).times do
      at = random.rand(text.bytesize)
      text =
        text.byteslice(0, at) + HARM.sample(random: random) + text.byteslice(at + random.rand(2), text.bytesize).to_s
    end
    text
  end

  def test_no_bytes_stop_a_reader_and_none_are_lost
    random = seeded(3)
    reader = Intake::SegmentReader.new
    3000.times do
      text = damaged(random)
      header = Reading::Header.last(text, first: true)
      batch = reader.read(segment(text, rules: nil, header: header)).batch
      kept =
        (0...batch.size)
          .map { |index| Store::Head.restore(batch.heads[index].b, batch.times[index]) + batch.bodies[index].b }
          .join
      assert_equal text.delete("\r\n"), kept.delete("\r\n")
    end
  end

  def test_no_reader_stumbles_over_them
    random = seeded(5)
    3000.times do
      damaged(random).each_line(chomp: true) { |line| assert_nil Reading::Catalogue.read(line, context).note, line }
    end
  end

  # Cut anywhere on its way, a text gives the same records; each says where it stands.
  def test_pieces_of_any_size_give_the_same_records
    random = seeded(7)
    told = lambda do |events|
      events.map do |event|
        [
          event.raw, event.ending, event.message, event.reader, event.time_us, event.fields, event.line_number,
          event.offset
        ]
      end
    end
    500.times do
      text = damaged(random)
      found = records(text)
      assert_equal text, whole(found)
      assert_equal told.call(found), told.call(records(text, chunk: random.rand(1..30)))
      found.each do |event|
        assert_equal [event.raw, text.byteslice(0, event.offset).count("\n") + 1],
                     [text.byteslice(event.offset, event.raw.bytesize), event.line_number]
      end
    end
  end

  # What once took minutes or hours; bench/hostile measures these and more. No bound on time, but on patience: of the
  # processor, since other tests run beside it.
  PATIENCE_S = 60
  JOURNAL = ["__CURSOR=a\n", "A=b\n" * 40_000, "M\n", [1 << 20].pack("Q<"), "\n" * 160_000].join.b.freeze
  RESOURCE =
    %({"resourceLogs":[{"resource":{"attributes":[{"key":"#{'k' * 100_000}"}]},"scopeLogs":[{"logRecords":[).freeze
  ENDLESS = {
    "a trace and a line of dots" => "java.lang.X: y\n\tat a.b(C.java:1)\n#{'a.' * 60_000} x\n",
    "blank lines behind a record" => "#{STAMP} a\n#{"\n" * 300_000}",
    "closing lines behind an open block" => "#{STAMP} #{'{' * 9}\n#{"}\n" * 60_000}",
    "a call of a goroutine" => "panic: a\n\ngoroutine 1 [running]:\n#{'a.(' * 60_000}\n",
    "a row that never ends" => "time,a,b\n1,2,\"\n#{"x\n" * 100_000}",
    "a JSON text of blanks" => "[\n#{"\n" * 300_000}",
    "a JSON text with an open string" => "[{\"a\":\"\n#{"b\n" * 100_000}",
    "a listing without an end" => "Event[0]:\n  Date: 2026-11-22T06:12:08Z\n#{"  a: b\n" * 200_000}",
    "braces" => "{" * 500_000, "an open journal" => JOURNAL,
    "events run together" => "<Event></Event>" * 20_000,
    "a request with much to say of each record" => "#{RESOURCE}#{'{},' * 20_000}{}]}]}]}\n"
  }.freeze

  ENDLESS.each do |name, text|
    define_method("test_#{name.tr(' ', '_')}_is_read_in_time") do
      events = patiently { records(text.b, chunk: 1 << 16) }
      assert_equal text.b, whole(events)
    end
  end

  def processor_seconds = Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID)

  # @return [Object] what the block returns, unless it computes for too long
  def patiently
    ends = processor_seconds + PATIENCE_S
    test = Thread.current
    watch = Thread.new do
      sleep 0.5 while processor_seconds < ends
      test.raise("it took more than #{PATIENCE_S} s of the processor")
    end
    yield
  ensure
    watch.kill
  end

  def test_what_grows_line_by_line_is_whole
    lines = Array.new(3000) { |number| "line #{number}" }
    event = records("#{STAMP} first\n#{lines.join("\r\n")}\r\n\r\n\n#{STAMP} next\n").first
    assert_equal ["first", *lines].join("\r\n").sub("first\r\n", "first\n"), event.message
    assert_equal "\n", event.ending
  end

  def test_a_line_that_a_reader_stumbles_over_is_kept_as_it_came
    stumbling = ->(*) { raise "never met before" }
    _, event =
      Reading::Formats::JsonLines.stub(:read, stumbling) { records("#{STAMP} a record before it\n{\"msg\":\"m\"}\n") }
    assert_equal [:plain, '{"msg":"m"}'], [event.reader, event.raw]
    assert_includes event.note, "RuntimeError"
    refute_includes event.note, "never met before"
  end

  # @return [Array<Event>] as they are stored, of two lines: one that holds "harmful", and one that does not
  def stored(rules = {})
    text = "#{STAMP} host app: harmful k=v session opened for user ida\n#{STAMP} host app: harmless k=v\n"
    batch = nil
    events = packed { |packer| batch = Intake::SegmentReader.new(packer).read(segment(text, rules: rules)).batch }
    assert_equal text,
                 (0...2)
                   .map { |index|
                     "#{Store::Head.restore(batch.heads[index].b, batch.times[index])}#{batch.bodies[index]}\n"
                   }
                   .join
    events
  end

  def test_what_cannot_be_packed_is_kept_as_it_came
    harmful, harmless =
      Patterns::Mask.stub(
        :template, ->(message) { message.start_with?("harmful") ? raise("never met before") : message }
      ) { stored }
    assert_equal [{}, "#{STAMP} host app: harmful k=v session opened for user ida", 0],
                 [harmful.fields, harmful.message, harmful.body_at]
    assert_equal "the packing of its values failed (RuntimeError)", harmful.note
    assert_equal [{ "k" => "v" }, nil], [harmless.fields, harmless.note]
  end

  def test_a_rule_that_fails_keeps_no_line_out
    own = { "id" => "own", "kind" => "logon", "says" => "a logon", "find" => "harmful" }
    subject = Find::Subjects.method(:of)
    {
      "the logbook" => { "logbook" => { "own" => [own] } },
      "noise rule" => { "noise" => [{ "id" => 1, "find" => "harmless", "action" => "drop" }] }
    }.each do |name, rules|
      events =
        Find::Subjects.stub(
          :of,
          lambda do |event, *others|
            event.raw.include?("harmful") ? raise("never met before") : subject.call(event, *others)
          end
        ) { stored(rules) }
      assert_match(/#{name} failed \(RuntimeError\)/, events.first.note)
      assert_nil events.last.note
      assert_equal({ "k" => "v" }, events.first.fields)
    end
  end

  def test_what_is_stored_of_them_is_what_came
    random = Random.new(4)
    texts =
      Array
        .new(60) { |index| [format("%03d.log", index), damaged(random)] }
        .uniq(&:last)
        .reject { |_, text| text.include?("\0") }
    texts.each { |name, text| write("in/#{name}", text) }
    summary = import(File.join(@dir, "in"))
    assert_empty summary.results.filter_map(&:problem)
    texts.each do |name, text|
      source = Store::Source.find_by!("name LIKE ?", "%#{name}")
      kept = +"".b
      Store::SourceText.new(source).each { |bytes| kept << bytes }
      assert_equal text, kept, name
    end
    question
      .to_enum(:each)
      .each { |event| assert(event.fields.all? { |field, value| field.valid_encoding? && value.to_s.valid_encoding? }) }
  end
end
