# frozen_string_literal: true

require_relative "../test_helper"

# The rules of the logbook, each on the records that it was made for. The samples name their public source beside them.
class LogbookTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  CATALOGUE = Logbook::Catalogue.shipped

  def event(text) = records(text.include?("\n") ? text : "#{text}\n").first

  def happening(text) = CATALOGUE.read(event(text), "test")

  CATALOGUE.families.each do |family|
    family.rules.each do |rule|
      define_method("test_#{rule.id}_reads_its_samples_and_has_no_blank_left") do
        refute_empty rule.samples
        rule.samples.each do |sample|
          found = happening(sample)
          assert_equal rule.id, found&.rule, sample
          refute_includes found.says, "not told", sample
          refute_empty found.says
        end
        assert_operator rule.source.length, :>, 8
      end
    end
  end

  # What one family's programs write, no other family's rules take for theirs.
  def test_no_rule_fires_on_samples_of_another_family
    subjects =
      CATALOGUE.families.flat_map do |family|
        family.rules.flat_map { |rule| rule.samples.map { |sample| [family.name, rule.id, event(sample)] } }
      end
    crossed = CATALOGUE.families.flat_map do |family|
      family.rules.flat_map do |rule|
        subjects
          .reject { |name,| name == family.name }
          .filter_map { |_, id, one| "#{rule.id} on #{id}" if rule.read(one, Find::Subjects.of(one, "test")) }
      end
    end
    assert_empty crossed
  end

  def test_ids_stand_once = assert_equal(CATALOGUE.rules.size, CATALOGUE.rules.map(&:id).uniq.size)

  def test_there_are_enough_of_them
    assert_operator CATALOGUE.rules.size, :>=, 150
    # Of no line comes what is made of there being too few or too many.
    assert_equal Logbook::Rule::KINDS.keys - %w[silence volume], Logbook::Rule::KINDS.keys & CATALOGUE.rules.map(&:kind)
  end

  # Ids of Windows events that the vendor documents (Microsoft Learn, event ids by provider).
  def test_event_ids_of_windows
    ids = CATALOGUE.families.find { |family| family.name == "windows" }.rules.map { |rule| rule.mark[/\d+/].to_i }
    assert_empty [
      41, 1074, 6005, 6006, 6008, 6009, 7031, 7034, 7036, 7040, 7045, 4624, 4625, 4719, 4720, 4732, 1102,
      1000, 1001, 19
    ] - ids
  end

  # A condition can be read by people and asked of lines that are stored: it finds what the rule's own samples say.
  def test_every_condition_is_a_find_text_that_finds_the_samples
    CATALOGUE.rules.each do |rule|
      matcher = Find::Matcher.new(Find::Parser.parse(rule.find))
      rule.samples.each { |sample| assert matcher.match?(Find::Subjects.of(event(sample), "test")), "#{rule.id}: #{sample}" }
    end
  end

  def test_lines_of_every_day_are_no_happenings
    [
      "Nov 22 06:14:26 alder CRON[1]: (root) CMD (/usr/local/bin/started)",
      "Nov 22 06:14:26 alder app: Started to think", '{"msg":"COMMAND=reboot","level":"info"}',
      "10.0.0.1 - - [22/Nov/2026:06:12:09 +0100] \"GET /Killed process HTTP/1.1\" 200 88",
      "Nov 22 06:14:26 alder app: the certificate of the course expires in 3 days of work",
      "Nov 22 06:14:26 alder shop: 14 items is DOWN in price"
    ].each { |line| assert_nil happening(line), line }
  end

  # A stranger who sends a request says who he is: what he calls himself must not become a happening.
  def test_requests_cannot_forge_happenings
    words = "packages upgraded, restarting as planned"
    access = %(203.0.113.77 - - [22/Nov/2026:06:14:26 +0000] "GET / HTTP/1.1" 200 12 "-" "#{words}")
    extended = [
      "#Fields: date time c-ip cs-method cs-uri-stem sc-status cs(User-Agent)",
      %(2026-11-22 06:14:26 203.0.113.77 GET / 200 "#{words}")
    ]
    own =
      Logbook::Catalogue.of(
        "off" => [],
        "own" => [{ "id" => "own.2", "kind" => "change", "find" => "planned", "says" => "a request names it" }]
      )
    assert_equal :access_log, read(access).reader
    assert_nil CATALOGUE.read(read(access), "test")
    assert_equal "own.2", own.read(read(access), "test").rule
    asked = records("#{extended.join("\n")}\n").last
    assert_equal [:w3c, true], [asked.reader, asked.raw.include?(words)]
    assert_nil CATALOGUE.read(asked, "test")
    refute_nil CATALOGUE.read(read("Nov 22 06:14:26 alder patchbot[5120]: #{words}"), "test")
    balanced = "203.0.113.77:4444 [22/Nov/2026:06:14:26.500] web pages/p1 0/0/0/1/2 200 217 - - ---- 1/1/0/0/0 0/0 "
    [
      access.sub("GET / HTTP/1.1", words), "<190>Nov 22 06:14:26 alder patchbot[5120]: #{access}",
      "<190>1 2026-11-22T06:14:26Z alder patchbot 5120 - - #{access.sub('GET / HTTP/1.1', 'x')}",
      "2026-11-22T06:14:26.5Z stdout F #{access}", %(#{balanced}"GET /?#{words} HTTP/1.1"),
      %(Nov 22 06:14:26 alder patchbot[5120]: #{balanced}{#{words}} "GET / HTTP/1.1"),
      "1795327928.123 12 203.0.113.77 TCP_MISS/200 12 GET http://h/#{words.tr(' ', '_')} - HIER_DIRECT/10.0.0.3 " \
      "text/html; #{words}",
      "2026-11-22T06:14:26.5Z\t 7 Query\tselect '#{words}'"
    ].each { |line| assert_nil CATALOGUE.read(read(line), "test"), line }
    # A program that names a status speaks for itself.
    refute_nil CATALOGUE.read(read(%(Nov 22 06:14:26 alder patchbot[5120]: #{words} status_code=503)), "test")
  end

  def test_what_it_says_and_who_did_it
    found =
      happening(
        "<189>Nov 22 06:09:41 sw-core-1 %CONFIG-5-CHANGED: configuration changed by olav from 10.40.0.31: interface " \
        "vlan 40, mtu 9000 -> 1500"
      )
    assert_equal ["change", "sw-core-1", "olav changed the configuration: interface vlan 40, mtu 9000 -> 1500", "olav"],
                 [found.kind, found.machine, found.says, found.person]
    assert_equal(
      ["restarts", nil],
      happening("Nov 22 06:30:02 alder systemd-logind[540]: System is rebooting.").then { |one| [one.says, one.person] }
    )
  end

  def test_request_and_outcome_of_an_operation
    line = lambda do |more|
      '{"time":"2026-11-22T02:00:01Z","service":"platform","msg":"snapshot","host":"hv-2","method":"snapshot.create",' \
        "\"actor\":\"backup\",\"target\":\"mail-1\",\"operation\":{\"id\":\"op-412\"#{more}}}"
    end
    assert_equal(
      [%w[op-412 request], %w[op-412 outcome], %w[op-412 outcome]],
      %w[,"first":true ,"last":true ,"first":true,"last":true].map do |more|
        happening(line.call(more)).then { |one| [one.operation, one.phase] }
      end
    )
  end

  # Rules of people: before those that ship, and without those that they switched off.
  def test_own_rules_and_rules_that_are_off
    own = {
      "id" => "own.1", "kind" => "change", "find" => "service.name = gatectl and berth",
      "take" => 'berth (?P<berth>\d+) .*by (?P<who>\w+)', "says" => "{who} moved berth {berth}[ to {to}]",
      "severity" => "notice"
    }
    catalogue = Logbook::Catalogue.of("off" => ["kernel.panic"], "own" => [own])
    found = catalogue.read(event("Nov 22 06:14:26 gate gatectl[4]: berth 3 was moved by olav"), "test")
    assert_equal ["own.1", "olav moved berth 3", "olav", 5], [found.rule, found.says, found.person, found.severity]
    panic = event("Nov 22 06:14:26 alder kernel: Kernel panic - not syncing: Fatal exception")
    assert_nil catalogue.read(panic, "test")
    refute_nil CATALOGUE.read(panic, "test")
    refute_equal CATALOGUE.version, catalogue.version
    assert_same catalogue, Logbook::Catalogue.of("off" => ["kernel.panic"], "own" => [own])
    assert_same CATALOGUE, Logbook::Catalogue.of("off" => [], "own" => [])
  end

  def test_a_rule_that_will_not_do_says_what_of_it
    good = { "id" => "own.1", "kind" => "change", "find" => "berth", "says" => "moved" }
    {
      "kind" => "weather", "find" => "(", "take" => "(?P<x>[", "says" => " ", "severity" => "awful"
    }.each do |part, value|
      mistake = assert_raises(Rules::Mistake) { Logbook::Rule.new(good.merge(part => value)) }
      assert_equal part, mistake.part
    end
    assert_raises(Rules::Mistake) { Logbook::Rule.new(good.except("find")) }
  end
end
