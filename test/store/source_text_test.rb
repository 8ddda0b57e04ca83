# frozen_string_literal: true

require_relative "../test_helper"

# A source can be had back as it came in, and any place of it be found, whatever the order of times in it.
class SourceTextTest < Northdrift::StoreTest
  include Northdrift

  # Lines of several blocks, with records of more than one line, out of order, of a file that grows.
  def text(from, count)
    random = Random.new(from)
    Array
      .new(count) do |index|
        "#{(NOW - random.rand(90_000)).strftime('%Y-%m-%dT%H:%M:%SZ')} entry #{from + index}" \
          "#{"\n\tat a call\n\tat another" if (index % 50).zero?}\n"
      end
      .join
  end

  def source = Store::SourceText.new(Store::Source.first)

  def test_a_file_that_grows_is_had_back
    whole = text(0, 1500)
    path = write("a.log", whole)
    write("b.log", text(90_000, 700))
    import(path, File.join(@dir, "b.log"))
    File.write(path, more = text(5000, 900), mode: "a")
    import(path)
    assert_equal (whole + more).b, source.to_enum(:each).to_a.join
    assert_equal (whole + more).lines.size, source.last_line
  end

  def test_any_place_is_found
    whole = text(0, 1500)
    import_text(whole)
    lines = whole.lines
    [1, 2, 3, 512, 513, 1023, 1024, 1025, lines.size].each do |number|
      found = source.around(number, before: 5, after: 5)
      assert_includes found
        .map { |event| event.line..(event.line + event.raw.count("\n")) }
        .reduce([]) { |all, range| all + range.to_a }, number
      assert_equal found.map(&:line).sort, found.map(&:line)
      assert_equal lines[found.first.line - 1].chomp, Text.utf8(found.first.raw).lines.first.chomp
    end
    assert_equal 11, source.around(700, before: 5, after: 5).size
  end

  def test_what_is_taken_out_leaves_nothing
    import_text(text(0, 600))
    Store::Removal.remove([Store::Source.first.id])
    assert_equal 0, Store::Database.value("SELECT count(*) FROM source_blocks")
  end
end
