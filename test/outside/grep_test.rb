# frozen_string_literal: true

require_relative "../test_helper"
require "open3"

# Counts of grep (and of awk for a comparison) over a file are the reference: for the same condition the same lines are
# found, in the same order. The file is written here, with texts that have meaning to a pattern or to SQL.
class GrepTest < Northdrift::StoreTest
  include Northdrift

  TRICKY = [
    "100% full", "50%_off", "a_b", "aXb", "back\\slash", "C:\\Temp\\x.log", "it's", "\"quoted\"", "semi;colon",
    "[brackets]", "star*", "tab\there", "(open", "^start$", "a.b", "ü and Ü", "NUL", "x''y", "--dash", "??", "0x1F",
    "_under_", "co-op", "10.20.3.4", "/dev/sda1", "user@host", "k=v"
  ].freeze

  def setup
    super
    random = Random.new(3)
    lines = Array.new(3000) do |index|
      "#{(NOW - 9000 + index).strftime('%b %e %T')} host-#{index % 3} app[#{index % 50}]: " \
        "#{Array.new(random.rand(1..4)) { TRICKY[random.rand(TRICKY.size)] }.join(' ')} took=#{random.rand(1000)}ms"
    end
    @path = write("tricky.log", "#{lines.join("\n")}\n")
    import(@path)
  end

  def grep(*arguments) = Open3.capture2({ "LC_ALL" => "C.UTF-8" }, "grep", *arguments, @path).first.lines(chomp: true)

  def test_fixed_text_inside_tokens
    [
      "%_o", "_b", "ack\\sl", "\\Tem", "t's", "uote", "i;c", "rack", "ar*", "ere took", "(ope", "^sta", "art$", "a.b",
      "x''y", "-das", "??", "x1f", "20.3", "ev/sd", "r@ho", "=1", "% f"
    ].each do |text|
      # What ends a word of the find language is written as a regular expression of fixed characters.
      find = text.match?(/[\s"()*]/) ? "text ~ /(?i)#{Regexp.escape(text).gsub('\\ ', ' ')}/" : "*#{text}*"
      assert_equal grep("-i", "-F", "-e", text).size, question(find).total, find
      assert_equal grep("-i", "-F", "-e", text).last(50),
                   question(find).page(last: true, limit: 50).events.map { |event| Text.utf8(event.raw) }, find
    end
  end

  def test_regular_expressions
    [
      "full.*off", "took=9[0-9]{2}ms", "host-[12] app\\[4", "a[_X]b took", "(10\\.20\\.3\\.4|user@host) took=1",
      "co-op (co-op|k=v)", "under_ .*brackets"
    ].each { |pattern| assert_equal grep("-E", pattern), found("text ~ /#{pattern}/"), pattern }
  end

  def test_words_as_they_stand
    %w[co-op 10.20.3.4 /dev/sda1 user@host 0x1F a_b _under_].each do |word|
      assert_equal grep("-iwF", word), found(word), word
    end
  end

  def test_not_and_both
    assert_equal grep("-viF", "co-op").size, question("not co-op").total
    assert_equal grep("-iF", "co-op") & grep("-iF", "user@host"), found("co-op user@host")
    assert_equal (grep("-iF", "co-op") | grep("-iF", "user@host")).sort, found("co-op or user@host").sort
  end

  def test_a_comparison_against_awk
    awk = Open3.capture2("awk", "-F", "took=", "{ if ($2 + 0 > 750) print }", @path).first.lines(chomp: true)
    assert_equal awk, found("took > 750ms")
    assert_equal awk.size, question("took > 0.75s").histogram.total
  end

  def test_ends_of_the_file
    assert_equal(
      File.readlines(@path, chomp: true).first(200), question.page.events.map { |event| Text.utf8(event.raw) }
    )
    assert_equal(
      File.readlines(@path, chomp: true).last(200),
      question.page(last: true).events.map { |event| Text.utf8(event.raw) }
    )
  end
end
