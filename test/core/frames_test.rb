# frozen_string_literal: true

require_relative "../test_helper"

# Messages cut out of a stream as RFC 6587 has it: counted (section 3.4.1), or up to the end of the line (section
# 3.4.2).
class FramesTest < Minitest::Test
  Frames = Northdrift::Reading::SyslogFrames

  # @return [Array<String>] what comes of a stream that arrives in these pieces
  def messages(*pieces)
    frames = Frames.new
    pieces.flat_map { |piece| frames.push(piece.b) } + frames.finish
  end

  def test_counted_messages_may_hold_anything
    first = "<34>1 2003-10-11T22:14:15.003Z mymachine su - ID47 - two\nlines"
    assert_equal [first.b, "<13>b".b], messages("#{first.bytesize} #{first}5 <13>b")
  end

  def test_lines_end_with_line_feeds_and_lose_what_ends_them
    assert_equal %w[<34>one <34>two <34>three <34>last].map(&:b),
                 messages("<34>one\n<34>two\r\n\n<34>three\0\n<34>last")
  end

  def test_both_ways_in_one_stream
    assert_equal ["<34>line", "<13>counted", "<34>line again"].map(&:b),
                 messages("<34>line\n11 <13>counted<34>line again\n")
  end

  def test_a_line_that_starts_with_digits_is_no_count
    assert_equal ["2026-11-22 a line", "0 is no count", "123456789 has too many digits", "12"].map(&:b),
                 messages("2026-11-22 a line\n0 is no count\n123456789 has too many digits\n12")
  end

  def test_pieces_of_any_size_give_the_same
    random = Random.new(5)
    sent = Array.new(300) { |index| "<#{random.rand(192)}>#{index} #{'äx' * random.rand(40)}" }
    stream = sent.map { |text| random.rand(2).zero? ? "#{text.bytesize} #{text}" : "#{text}\n" }.join.b
    20.times do
      pieces = []
      at = 0
      pieces << stream.byteslice(at, size = random.rand(1..200)) && at += size while at < stream.bytesize
      assert_equal sent.map(&:b), messages(*pieces)
    end
  end

  def test_what_cannot_be_cut_is_refused_and_what_stood_before_it_is_kept
    frames = Frames.new
    error = assert_raises(Frames::Invalid) { frames.push("5 <13>a9999999 <13>b".b) }
    assert_match "9999999", error.message
    assert_equal ["<13>a"], frames.last
    assert_raises(Frames::Invalid) { messages("x" * (Frames::LIMIT + 1)) }
  end
end
