# frozen_string_literal: true

require_relative "../test_helper"

# The grammar of the find language, held against docs/find-language.md and against trees put together at random.
class FindGrammarTest < Minitest::Test
  include Northdrift
  include Northdrift::Find

  DOCUMENT = File.expand_path("../../docs/find-language.md", __dir__)

  def parse(text, known: nil) = Parser.parse(text, known: known)
  def word(text) = Tree::Word.new(text)

  # Every example of the first column of the document's table.
  def examples
    File.readlines(DOCUMENT).grep(/\A\| `/).flat_map { |row| row.split(" | ").first.scan(/`([^`]+)`/).flatten }
  end

  def test_every_example_of_the_document_is_understood
    assert_operator examples.size, :>=, 18
    examples.each { |text| refute_equal Tree::Everything, parse(text), text }
  end

  # What the document says of each, as a tree.
  {
    "disk full" => Tree::All.new([Tree::Word.new("disk"), Tree::Word.new("full")]),
    '"no space left"' => Tree::Phrase.new("no space left"), "time*" => Tree::Prefix.new("time"),
    "*1f7a*" => Tree::Contains.new("1f7a"), "err*code" => Tree::Glob.new("err*code"),
    "*_total" => Tree::Glob.new("*_total"),
    "disk or quota" => Tree::Any.new([Tree::Word.new("disk"), Tree::Word.new("quota")]),
    "not test" => Tree::Not.new(Tree::Word.new("test")),
    "host.name = gate-brn-1" => Tree::Compare.new("host.name", :==, "gate-brn-1"),
    'host.name = "gate-*"' => Tree::Compare.new("host.name", :exactly, "gate-*"),
    "host.name != gate-*" => Tree::Not.new(Tree::Compare.new("host.name", :==, "gate-*")),
    "severity >= warning" => Tree::Severities.new([0, 1, 2, 3, 4]), "severity < notice" => Tree::Severities.new([6, 7]),
    "severity = unset" => Tree::Severities.new([8]), "severity != 3" => Tree::Not.new(Tree::Severities.new([3])),
    "severity <= err" => Tree::Severities.new([3, 4, 5, 6, 7]), "severity > 1" => Tree::Severities.new([0]),
    "severity in (error, warn)" => Tree::Any.new([Tree::Severities.new([3]), Tree::Severities.new([4])]),
    "duration_ms > 2500" => Tree::Compare.new("duration_ms", :>, "2500"),
    "bytes >= 10MB" => Tree::Compare.new("bytes", :>=, "10MB"), "took<=2.5s" => Tree::Compare.new("took", :<=, "2.5s"),
    "source.address = 10.40.0.0/16" => Tree::Compare.new("source.address", :==, "10.40.0.0/16"),
    "user.name in (ida, root)" =>
      Tree::Any.new([Tree::Compare.new("user.name", :==, "ida"), Tree::Compare.new("user.name", :==, "root")]),
    'user.name in ("ida l", root,x)' =>
      Tree::Any.new(
        [
          Tree::Compare.new("user.name", :exactly, "ida l"), Tree::Compare.new("user.name", :==, "root"),
          Tree::Compare.new("user.name", :==, "x")
        ]
      ), "user.name in (ida)" => Tree::Compare.new("user.name", :==, "ida"),
    'message ~ /timed out after \d+ ?ms/' => Tree::Matches.new("message", 'timed out after \d+ ?ms'),
    "text !~ /a/" => Tree::Not.new(Tree::Matches.new("text", "a")),
    "url.path ~ /a\\/b/" => Tree::Matches.new("url.path", "a/b"),
    "message ~ plain" => Tree::Matches.new("message", "plain"),
    'message ~ "two words"' => Tree::Matches.new("message", "two words"),
    "has request.id" => Tree::Has.new("request.id"), "HAS request.id" => Tree::Has.new("request.id"),
    "has" => Tree::Word.new("has"),
    "has 10.0.0.1" => Tree::All.new([Tree::Word.new("has"), Tree::Word.new("10.0.0.1")]),
    "pattern = P1842" => Tree::Compare.new("pattern", :==, "P1842"),
    "pattern != p7" => Tree::Not.new(Tree::Compare.new("pattern", :==, "p7")), "" => Tree::Everything,
    "   " => Tree::Everything, "*" => Tree::Everything, "* disk" => Tree::Word.new("disk"),
    "not *" => Tree::Not.new(Tree::Everything),
    "NOT a AND b OR c" =>
      Tree::Any.new([Tree::All.new([Tree::Not.new(Tree::Word.new("a")), Tree::Word.new("b")]), Tree::Word.new("c")]),
    "not not a" => Tree::Not.new(Tree::Not.new(Tree::Word.new("a"))),
    "not (a b)" => Tree::Not.new(Tree::All.new([Tree::Word.new("a"), Tree::Word.new("b")])),
    "((a))" => Tree::Word.new("a"), "(a)(b)" => Tree::All.new([Tree::Word.new("a"), Tree::Word.new("b")]),
    '"a \"b\" \\\\c"' => Tree::Phrase.new('a "b" \\c'), '"or"' => Tree::Phrase.new("or"),
    "order android nothing" =>
      Tree::All.new([Tree::Word.new("order"), Tree::Word.new("android"), Tree::Word.new("nothing")]),
    "a->b" => Tree::Word.new("a->b"), "x-y=z" => Tree::Compare.new("x-y", :==, "z"),
    "http://a/b?c=d" => Tree::Word.new("http://a/b?c=d"), "10.0.0.1:80" => Tree::Word.new("10.0.0.1:80"),
    "k = a=b" => Tree::Compare.new("k", :==, "a=b"), "k=<34>" => Tree::Compare.new("k", :==, "<34>"),
    "@timestamp = x" => Tree::Compare.new("@timestamp", :==, "x"),
    "жук naïve" => Tree::All.new([Tree::Word.new("жук"), Tree::Word.new("naïve")]),
    "tix-db-*" => Tree::Glob.new("tix-db-*"), "tix-d*" => Tree::Prefix.new("tix-d")
  }.each_with_index do |(text, tree), index|
    define_method("test_means_#{index}") { assert_equal tree, parse(text), text }
  end

  # Whatever is typed is understood or told as a mistake with a place in it; nothing else may come of it.
  def test_whatever_is_typed_is_understood_or_told
    random = seeded(21)
    pieces = [
      "(", ")", '"', "/", "=", "!=", "~", "!~", "<", ">=", "*", ",", "\\", "and", "or", "not", "in", "has", "a",
      "host.name", "severity", "pattern", "P1", "10.0.0.0/8", "5ms", "жук", "\u{1F980}", "\u0000", "\n", "[", "{2}", "é"
    ]
    understood = 0
    4000.times do
      text = Array.new(random.rand(1..9)) { pieces.sample(random: random) }.join([" ", "", "  "].sample(random: random))
      begin
        Matcher.new(parse(text)).match?(Matcher::Subject.new(8, text, nil, nil, text, -> { text }, -> { {} }))
        understood += 1
      rescue Mistake => error
        assert_includes 1..(text.length + 1), error.column, "#{text.inspect}: #{error.message}"
        assert_operator error.column + error.length, :<=, text.length + 2, "#{text.inspect}: #{error.message}"
        refute_empty error.message
      end
    end
    assert_includes 400..3900, understood
  end

  # A tree as somebody would type it, with every bracket and keyword.
  def typed(tree, random)
    case tree
    when Tree::All
      "(#{tree.children.map { |child| typed(child, random) }.join([' ', ' and ', ' AND '].sample(random: random))})"
    when Tree::Any
      "(#{tree.children.map { |child| typed(child, random) }.join([' or ', ' OR '].sample(random: random))})"
    when Tree::Not
      "not #{typed(tree.child, random)}"
    when Tree::Word
      tree.text
    when Tree::Phrase
      "\"#{tree.text}\""
    when Tree::Prefix
      "#{tree.text}*"
    when Tree::Has
      "has #{tree.field}"
    when Tree::Matches
      "#{tree.field} ~ /#{tree.pattern}/"
    when Tree::Compare
      "#{tree.field}#{[' ', ''].sample(random: random)}#{tree.operator == :== ? '=' : tree.operator} #{tree.value}"
    end
  end

  LEAVES = [
    Tree::Word.new("disk"), Tree::Word.new("tix-db-1"), Tree::Phrase.new("no space left"), Tree::Prefix.new("time"),
    Tree::Has.new("request.id"), Tree::Matches.new("message", "a+ b"), Tree::Compare.new("host.name", :==, "gate-*"),
    Tree::Compare.new("took", :>, "5ms"), Tree::Compare.new("bytes", :<=, "2KB")
  ].freeze

  def grown(random, depth = 0)
    return LEAVES.sample(random: random) if depth > 3 || random.rand < 0.35

    children = -> { Array.new(random.rand(2..3)) { grown(random, depth + 1) } }
    case random.rand(3)
    when 0 then Tree::All.new(children.call)
    when 1 then Tree::Any.new(children.call)
    else Tree::Not.new(grown(random, depth + 1))
    end
  end

  def test_what_is_typed_of_a_tree_is_read_as_that_tree
    random = Random.new(5)
    400.times do
      tree = grown(random)
      text = typed(tree, random)
      assert_equal tree, parse(text), text
    end
  end

  # Keywords bind as the document says, with brackets and without.
  {
    "a b or c" => "(a b) or c", "a or b c" => "a or (b c)", "not a b" => "(not a) b",
    "a and not b or c and d" => "((a) and (not b)) or (c and d)", "not a or b" => "(not a) or b",
    "a or b or c" => "(a or b or c)", "a (b or c) d" => "a and (b or c) and d"
  }.each do |short, long|
    define_method("test_binding_of_#{short.tr(' ()', '___')}") { assert_equal parse(long), parse(short) }
  end

  def test_nesting_has_an_end
    assert_equal word("a"), parse("#{'(' * 90}a#{')' * 90}")
    assert_includes assert_raises(Mistake) { parse("#{'(' * 500}a#{')' * 500}") }.message, "deep"
    assert_includes assert_raises(Mistake) { parse("#{'not ' * 500}a") }.message, "deep"
  end

  # Names of fields: those that exist, in any case they are given, with what is near.
  def test_names_of_fields
    known = -> { %w[duration_ms Request.ID user.name] }
    assert_equal Tree::Compare.new("user.name", :==, "ida"), parse("user.name = ida", known: known)
    assert_equal "duration_ms", assert_raises(Mistake) { parse("durationms > 5", known: known) }.suggestion
    assert_nil assert_raises(Mistake) { parse("qqqqqq = 5", known: known) }.suggestion
    FieldNames::BUILT_IN.each { |name| parse("has #{name}", known: -> { [] }) }
  end

  def test_a_mistake_in_the_middle_points_there
    {
      'disk and "open' => [10, 5], "a b) c" => [4, 1], "x severity >= loud y" => [15, 4],
      "a message ~ /(/ b" => [13, 3], "a (b or ) c" => [9, 1], "size > big or x" => [8, 3], "pattern = 12" => [11, 2],
      "pattern > P1" => [9, 1], "host.name in ()" => [15, 1], "a in (b" => [6, 1], "x = " => [3, 1]
    }.each do |text, (column, length)|
      mistake = assert_raises(Mistake, text) { parse(text) }
      assert_equal column, mistake.column, "#{text}: #{mistake.message}"
      assert_equal length, mistake.length, "#{text}: #{mistake.message}" unless text.include?('"')
    end
  end
end
