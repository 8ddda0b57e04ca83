# frozen_string_literal: true

require_relative "../test_helper"

# However a line comes in (in a file, in pieces of one, followed, or as the message of a sender), it is read the same.
class WaysTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers
  include Northdrift::Packing

  # Records of one line, of every format; what a followed file or an import would join to the record before it is not
  # among them.
  LINES = Examples::ALL.filter_map { |line, (reader)| line unless reader == :plain }.freeze
  RULES = {
    "parsers" => [{ "id" => 7, "name" => "prints", "pattern" => 'print "(?P<printed>\w+)"', "types" => {} }],
    "logbook" => { "own" => [{ "id" => "own", "kind" => "change", "says" => "{lane}", "find" => "mtu" }] }
  }.freeze
  STREAM = Intake::Live::Stream.new(number: 1, feed_id: 1, name: "x", zone: "UTC")

  def told(events)
    events.map do |event|
      [
        event.reader, event.time_us, event.severity, event.machine, event.service, event.message, event.fields,
        event.constants, event.raw, event.inferred, event.note
      ]
    end
  end

  def in_a_file(text) = packed { |packer| Intake::SegmentReader.new(packer).read(segment(text, rules: RULES)) }

  def in_pieces(text, random)
    packed do |packer|
      reader = Intake::SegmentReader.new(packer)
      at = 0
      while at < text.bytesize
        size = random.rand(1..400)
        reader.read(
          segment(
            text.byteslice(at, size), offset: at, start: at.zero?, goes_on: at + size < text.bytesize, rules: RULES
          )
        )
        at += size
      end
    end
  end

  def live(text, sizes = nil)
    group = Intake::Live::Group.new(stream: STREAM, text: text.b, sizes: sizes, received_us: micros(NOW))
    bundle = Intake::Live::Bundle.new([group], Intake::Live::Bundle.pack(RULES))
    packed { |packer| @read = Intake::Live::BundleReader.new(packer).read(bundle) }
  end

  def messages(lines) = live(lines.join, lines.map(&:bytesize))

  def test_all_ways_give_the_same_events
    random = Random.new(6)
    20.times do
      lines = LINES.sample(random.rand(1..30), random: random)
      text = lines.map { |line| "#{line}\n" }.join
      expected = told(in_a_file(text))
      assert_equal(lines, expected.map { |event| Text.utf8(event[8]) })
      assert_equal expected, told(in_pieces(text, random))
      assert_equal expected, told(live(text))
      assert_equal expected, told(messages(lines))
    end
  end

  def test_places_of_lines_are_those_of_the_file
    text = LINES.map { |line| "#{line}\r\n" }.join.b
    [in_a_file(text), in_pieces(text, Random.new(8)), live(text)].each do |events|
      events.each_with_index do |event, index|
        assert_equal [index + 1, event.raw, "\r\n"],
                     [event.line_number, text.byteslice(event.offset, event.raw.bytesize), event.ending]
      end
    end
  end

  def test_rules_hold_on_every_way
    line = LINES.find { |one| one.include?("print ") }
    [in_a_file(line), live(line), messages([line])].each do |events|
      assert_equal %w[voucher prints], [events.first.fields["printed"], events.first.constants["parser"]]
    end
    change = LINES.find { |one| one.include?("mtu") }
    messages([change])
    assert_equal ["own"], @read.results.first.batch.happenings.values.map(&:rule)
  end

  def test_what_came_live_is_counted
    messages([LINES.first, "no line of any format", LINES.last])
    result = @read.results.first
    assert_equal [3, 2, 1], [result.lines, result.timed, result.unread]
    assert_equal({ plain: 1 }, result.readers.slice(:plain))
    assert_equal [micros(NOW)], result.batch.times.values_at(1)
    assert_equal(result.lag_us, result.batch.times.values_at(0, 2).sum { |time| micros(NOW) - time })
  end
end
