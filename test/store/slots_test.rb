# frozen_string_literal: true

require_relative "../test_helper"

# Many lines of one moment: each gets an id of its own, in the order of the file, and keeps its exact time.
class SlotsTest < Northdrift::StoreTest
  include Northdrift

  STAMP = "2026-11-22T06:12:08.417Z"

  def ids(find = "") = question(find).to_enum(:each).map(&:id)

  def test_more_lines_than_a_millisecond_holds
    import_text(Array.new(1000) { |index| "#{STAMP} line #{index}\n" }.join)
    events = question.to_enum(:each).to_a
    assert_equal (0...1000).map { |index| "line #{index}" }, events.map(&:message)
    assert_equal [STAMP.sub("417Z", "417000Z")], events.map(&:time).uniq
    assert_equal 1000, events.map(&:id).uniq.size
    assert_operator events.map { |event| Store::EventId.millis(event.id) }.uniq.size, :>=,
                    1000 / Store::EventId::SEQUENCES
  end

  def test_later_files_take_the_places_that_are_left
    import_text(Array.new(100) { |index| "#{STAMP} first #{index}\n" }.join, name: "a.log")
    before = ids
    import_text(Array.new(100) { |index| "#{STAMP} second #{index}\n" }.join, name: "b.log")
    assert_equal before, ids("first")
    assert_equal 200, ids.uniq.size
    assert_equal (0...100).map { |index| "second #{index}" }, question("second").to_enum(:each).map(&:message)
  end

  def test_lines_between_others_find_their_place
    import_text([0, 2, 4].map { |second| "2026-11-22T06:12:0#{second}Z even #{second}\n" }.join, name: "a.log")
    import_text([3, 1].map { |second| "2026-11-22T06:12:0#{second}Z odd #{second}\n" }.join, name: "b.log")
    assert_equal ["even 0", "odd 1", "even 2", "odd 3", "even 4"], question.to_enum(:each).map(&:message)
  end

  def test_times_long_ago_and_far_ahead
    %w[
      1981-01-01T00:00:00Z 1999-12-31T23:59:59.999999Z 2038-01-19T03:14:08Z 2099-12-31T23:59:59Z
    ].each_with_index { |stamp, index| import_text("#{stamp} moment #{index}\n", name: "#{index}.log") }
    assert_equal ["moment 0", "moment 1", "moment 2", "moment 3"], question.to_enum(:each).map(&:message)
    assert_equal "1999-12-31T23:59:59.999999Z", question("\"moment 1\"").page.events.first.time
  end

  # 43 bits of milliseconds reach beyond the year 2200; ids stay within SQLite's 64 bits.
  def test_ids_carry_time_sequence_and_severity
    id = Store::EventId.pack(1_795_327_928_417, 99, 3)
    assert_equal [1_795_327_928_417, 99, 3],
                 [Store::EventId.millis(id), Store::EventId.sequence(id), Store::EventId.severity(id)]
    assert_operator Store::EventId.pack((1 << 43) - 1, 127, 8), :<, 1 << 62
    assert_equal id >> Store::EventId::TIME_BITS,
                 Store::EventId.first(1_795_327_928_417_000) >> Store::EventId::TIME_BITS
    assert_operator Store::EventId.first(1_795_327_928_417_001), :>, id
  end
end
