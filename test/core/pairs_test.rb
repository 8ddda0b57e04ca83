# frozen_string_literal: true

require_relative "../test_helper"

class PairsTest < Minitest::Test
  include Northdrift

  # Text, and the pairs in it.
  TEXTS = {
    "a=1 b=two" => { "a" => "1", "b" => "two" },
    'x="two words" y=\'and more\' z=3' => { "x" => "two words", "y" => "and more", "z" => "3" },
    'say="a \"quoted\" word\nnext"' => { "say" => "a \"quoted\" word\nnext" },
    "opened (uid=0, gid=10) for root" => { "uid" => "0", "gid" => "10" },
    "took=30ms;rows=5" => { "took" => "30ms", "rows" => "5" }, "first=1 first=2" => { "first" => "1" },
    "GET /a?b=c&d=e" => {}, "1=2 =3 a= b" => {}, "x == y" => {},
    "path=/var/log/a.log level.name=warn k8s/app=web" => {
      "path" => "/var/log/a.log", "level.name" => "warn", "k8s/app" => "web"
    }, 'a="never closed b=2' => { "b" => "2" }, 'a="\\\\" b="\\"c\\""' => { "a" => "\\", "b" => '"c"' },
    'empty="" next=1' => { "empty" => "", "next" => "1" }, "no pairs at all" => {}
  }.freeze

  TEXTS.each_with_index do |(text, expected), index|
    define_method("test_text_#{index}") do
      assert_equal expected, Reading::Pairs.scan(text.b).transform_values { |value| value.dup.force_encoding("UTF-8") },
                   text
    end
  end

  # What a pair is, said at once and slowly.
  NAME = '[A-Za-z_@\x80-\xFF][\w.@\/\x80-\xFF-]{0,63}'
  PAIR = /(?<![^\s,;(\[{])(#{NAME})=(?:"((?>[^"\\]+|\\.)*)"|'([^']*)'|([^\s,;"'()\[\]{}]+))/n
  PIECES = [
    "a", "Z_", "@x", ".", "-", "/", "1", " ", "\t", "=", "=", "=\"", "\"", "'", "\\", ",", ";", "(", ")", "[", "{",
    "\xC3\xA9".b, "k" * 63
  ].map(&:b).freeze

  def test_random_texts_have_the_pairs_that_an_expression_finds
    random = Random.new(11)
    20_000.times do
      text = Array.new(random.rand(1..24)) { PIECES[random.rand(PIECES.size)] }.join
      expected = text.to_enum(:scan, PAIR).map { Regexp.last_match }
      pairs, covered = Reading::Pairs.measure(text)
      assert_equal expected.map { |match| match[1] }.uniq, pairs.keys, text
      assert_equal expected.sum { |match| match[0].bytesize }, covered, text
    end
  end

  def test_pairs_are_found_behind_any_length_of_text
    (0..140).each { |length| assert_equal({ "key_name" => "v" }, Reading::Pairs.scan("#{'w' * length} key_name=v")) }
  end

  def test_many_pairs_are_cut_off_and_all_are_measured
    text = Array.new(100) { |index| "k#{index}=v" }.join(" ")
    pairs, covered = Reading::Pairs.measure(text)
    assert_equal Reading::Pairs::LIMIT, pairs.size
    assert_equal text.bytesize - 99, covered
  end

  # Linear in the length, whatever the text: no text may hold a reader up.
  def test_hostile_texts_take_no_longer_than_others
    ["a" * 200_000, "a=" * 100_000, "a=\"#{'\\"' * 100_000}", "#{'(' * 200_000}=", "é" * 100_000].each do |text|
      started = Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID)
      Reading::Pairs.scan(text.b)
      assert_operator Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID) - started, :<, 5
    end
  end

  def test_names_become_common_ones_and_those_there_stay
    assert_equal(
      { "user.name" => "root", "process.pid" => "5" }, Reading::Pairs.add("user=ida pid=5", { "user.name" => "root" })
    )
  end

  def test_a_line_is_key_value_when_most_of_it_is_pairs
    context = Reading::Context.new(clock: Reading::Clock.new(reference_us: 0))
    assert_equal :key_value, Reading::Catalogue.read("a=1 b=2 c".b, context).reader
    assert_equal :plain,
                 Reading::Catalogue.read("a=1 b=2 and then a long text that has no further pairs".b, context).reader
    assert_equal :plain, Reading::Catalogue.read("single=pair".b, context).reader
  end
end
