# frozen_string_literal: true

require_relative "../test_helper"

class LinesTest < Minitest::Test
  include Northdrift

  def lines(text, chunk: text.bytesize + 1, **options)
    found = []
    cutter = Reading::Lines.new(**options)
    text.b.scan(/.{1,#{chunk}}/mn) { |piece| cutter.push(piece) { |*line| found << line } }
    cutter.finish { |*line| found << line }
    found
  end

  def test_endings_numbers_and_offsets
    assert_equal [
      ["a", "\n", 1, 0, false], ["", "\r\n", 2, 2, false], ["b", "\r\n", 3, 4, false],
      ["c", "", 4, 7, false]
    ], lines("a\n\r\nb\r\nc")
  end

  def test_nothing_is_no_line = assert_empty(lines(""))

  def test_a_carriage_return_alone_ends_no_line = assert_equal([["a\rb", "\n", 1, 0, false]], lines("a\rb\n"))

  def test_counting_goes_on_where_it_is_told
    assert_equal [["x", "\n", 11, 500, false]], lines("x\n", number: 10, offset: 500)
  end

  # However the bytes come, the lines are the same, and together they are the bytes.
  def test_pieces_of_any_size_make_the_same_lines
    random = Random.new(4)
    30.times do
      text = Array.new(random.rand(200)) { ["a", "bc", "\n", "\r\n", "\r", "\0", "ü", " "][random.rand(8)] }.join
      whole = lines(text, chunk: 10_000)
      assert_equal text.b, whole.map { |line, ending| line + ending }.join
      [1, 2, 3, 7].each { |size| assert_equal whole, lines(text, chunk: size), text.inspect }
    end
  end

  def test_a_long_line_comes_in_pieces_that_say_so
    limit = Reading::Lines::LIMIT
    found = lines("#{'x' * ((limit * 2) + 5)}\nend\n", chunk: 30_000)
    assert_equal([limit, limit, 5, 3], found.map { |line, *| line.bytesize })
    assert_equal(["", "", "\n", "\n"], found.map { |line| line[1] })
    assert_equal([1, 1, 1, 2], found.map { |line| line[2] })
    assert_equal [false, true, true, false], found.map(&:last)
  end
end
