# frozen_string_literal: true

require_relative "../test_helper"
require "delegate"
require "re2"

# Whether rules hold, against all windows that there are.
class WatchTest < Minitest::Test
  include Northdrift

  SECOND = 1_000_000
  TOLERANCE = 20
  CURVES = 200
  Line = Struct.new(:at, :role, :user, :took)
  WORDS = { lines: "knock", first: "refused", then: "welcome", without: "goodbye" }.freeze

  def rule(condition, **others)
    Watch::Rule.new({ "name" => "x", "when" => condition }.merge(others.transform_keys(&:to_s)))
  end

  def subject(line)
    text = "#{WORDS[line.role]} of #{line.user}"
    Find::Matcher::Subject.new(6, text, nil, nil, text, -> { text }, lambda {
      { "user.name" => line.user, "took" => line.took }.compact
    })
  end

  # What the engine says of lines in the order in which they come.
  def spans(rule, arrivals)
    engine = Watch::Engine.new([rule], tolerance_us: TOLERANCE * SECOND)
    latest = 0
    firings = arrivals.flat_map do |line|
      latest = [latest, line.at].max
      engine.advance(latest * SECOND) + engine.feed(line.at * SECOND, subject(line))
    end
    firings += engine.advance((latest + 10_000) * SECOND)
    firings.group_by(&:key).transform_values do |some|
      Watch::Span.of(some.map { |one| [one.from_us, one.at_us, one.critical] }, rule.quiet_us).map(&:to_a)
    end
  end

  # Moments outside the hours of a rule are as if it had not held: the same as all moments without those.
  def test_hours_in_which_it_is_watched
    random = seeded(20)
    lines = Array.new(200) { Line.new(random.rand(2 * 86_400), :lines, "ida") }
    held = counted(lines, 2, 900)
    within = held.select { |_, at| (at % 86_400) >= 79_200 || (at % 86_400) < 23_400 }
    assert_operator within.size, :<, held.size
    count = { "find" => "knock", "at_least" => 2, "within" => "15min", "by" => ["user.name"] }
    rule = rule({ "count" => count }, quiet: "15min", hours: { "from" => "22:00", "to" => "06:30", "zone" => "UTC" })
    assert_equal by_user(lines, 900) { within }.to_h, spans(rule, lines.sort_by(&:at))
  end

  UNFIT_HOURS = [
    5, { "days" => ["someday"] }, { "days" => [] }, { "from" => "7" }, { "zone" => "Moon/Base" }, { "until" => "07:00" }
  ].freeze

  def test_hours_that_will_not_do_are_told
    UNFIT_HOURS.each do |hours|
      mistake = assert_raises(Rules::Mistake, hours) { rule({ "count" => { "find" => "x" } }, hours: hours) }
      assert_equal "hours", mistake.part
    end
    night = { "days" => %w[sat sun], "from" => "22:00", "to" => "06:00", "zone" => "Europe/Oslo" }
    assert_equal "x, sat, sun 22:00–06:00 Europe/Oslo", rule({ "count" => { "find" => "x" } }, hours: night).in_words
  end

  # The same by looking at each run of so many lines, and at each pair of them.
  def counted(lines, least, within)
    times = lines.map(&:at).sort
    (0..times.size - least).filter_map do |at|
      [times[at], times[at + least - 1]] if times[at + least - 1] - times[at] < within
    end
  end

  def followed(lines, least, within)
    lines.select { |line| line.role == :then }.filter_map do |last|
      firsts = lines.select { |line| line.role == :first && line.at.between?(last.at - within, last.at) }.map(&:at).sort
      next if firsts.size < least

      from = firsts[-least]
      [firsts.first, last.at] if lines.none? { |line| line.role == :without && line.at.between?(from, last.at) }
    end
  end

  def by_user(lines, quiet)
    lines.reject { |line| line.user.nil? }.group_by { |line| [line.user] }.filter_map do |key, some|
      moments = yield(some).map { |from, at, critical| [from * SECOND, at * SECOND, critical] }
      [key, Watch::Span.of(moments, quiet * SECOND).map(&:to_a)] if moments.any?
    end.to_h
  end

  # Each is late by less than is tolerated.
  def shuffled(lines, random)
    lines.sort_by { |line| line.at + random.rand(0...TOLERANCE) }
  end

  def lines(roles, random)
    Array.new(random.rand(1..60)) do
      Line.new(random.rand(0..[20, 100, 400].sample(random: random)), roles.sample(random: random),
               ["ida", "olav", nil].sample(random: random))
    end
  end

  def test_so_many_lines_within_so_long
    random = seeded(71)
    often(400, 2500).times do |round|
      least = random.rand(1..6)
      within = random.rand(1..60)
      quiet = within + random.rand(0..40)
      sent = lines([:lines], random)
      one = rule({ "count" => { "find" => "knock", "at_least" => least, "within" => "#{within}s",
                                "by" => ["user.name"] } }, quiet: "#{quiet}s")
      expected = by_user(sent, quiet) { |some| counted(some, least, within) }
      assert_equal expected, spans(one, shuffled(sent, random)), "round #{round}: #{least} in #{within} of #{sent}"
    end
  end

  # In one pass as by trying each level by itself.
  def test_alerts_at_each_level
    CURVES.times do |seed|
      random = seeded(seed)
      times = Array.new(random.rand(60)) { random.rand(2000) * SECOND }.sort
      within, quiet = [5, 40, 300].sample(2, random: random).sort.map { |seconds| seconds * SECOND }
      watched = random.rand < 0.3 ? ->(at_us) { (at_us / SECOND % 100) < 60 } : ->(_) { true }
      curve = Watch::CountCurve.new(times, within, quiet, &watched)
      [1, 2, 3, 7, 20].each do |least|
        count = Watch::Count.new(least, within)
        moments = times.flat_map { |time| count.add(time) }.select { |_, at_us| watched.call(at_us) }
        assert_equal Watch::Span.of(moments, quiet).size, curve.alerts(least), [seed, least].inspect
      end
    end
  end

  def test_one_after_so_many_others
    random = seeded(72)
    often(400, 2500).times do |round|
      least = random.rand(1..4)
      within = random.rand(1..60)
      quiet = within + random.rand(0..40)
      without = random.rand(2).zero?
      sent = lines(without ? %i[first first then without] : %i[first first then], random)
      parts = { "first" => "refused", "then" => "welcome" }
      parts["without"] = "goodbye" if without
      one = rule({ "sequence" => parts.merge("at_least" => least, "within" => "#{within}s", "by" => ["user.name"]) },
                 quiet: "#{quiet}s")
      expected = by_user(sent, quiet) { |some| followed(some, least, within) }
      assert_equal expected, spans(one, shuffled(sent, random)), "round #{round}: #{least} in #{within} of #{sent}"
    end
  end

  FINDS = [
    "error", "no error", '"disk full"', "dis*", "*sk ful*", "disk or quota", "(disk or quota) not test", "not test",
    "severity >= error", "severity >= warning disk", "host.name = alder", "host.name = al*", 'service.name = "app"',
    "host.name in (alder, birch)", "message ~ /full: \\d+/", "text ~ /DISK/", "user.name = ida", "has user.name",
    "größe", "GRÖSSE", "STRASSE", "tix-db-1", "error severity = warning", ""
  ].freeze
  TEXTS = [
    "disk full: 12", "Disk FULL", "quota of ida", "error on tix-db-1", "no error", "a test of the disk", "Größe 12",
    "die Straße", "full disk", "nothing at all", "ERROR: DISK", "\u212Aelvin disk", "xdisky"
  ].freeze

  # Whenever a line leaves the window, those that are in it then.
  def missed(lines, than, within, known_to)
    times = lines.map(&:at)
    times.uniq.filter_map do |time|
      next if time + within >= known_to

      [time, time + within] if times.count { |other| other > time && other <= time + within } < than
    end
  end

  def test_fewer_lines_than_should_come
    random = seeded(73)
    often(400, 2500).times do |round|
      than = random.rand(1..5)
      within = random.rand(1..60)
      quiet = within + random.rand(0..40)
      sent = lines([:lines], random)
      one = rule({ "fewer" => { "find" => "knock", "than" => than, "within" => "#{within}s", "by" => ["user.name"] } },
                 quiet: "#{quiet}s")
      known_to = sent.map(&:at).max + 10_000 - TOLERANCE
      expected = by_user(sent, quiet) { |some| missed(some, than, within, known_to) }
      assert_equal expected, spans(one, shuffled(sent, random)), "round #{round}: < #{than} in #{within} of #{sent}"
    end
  end

  # Steps of a user that have lines, in order, with the mean of what was measured: by the definition of each moment,
  # with nothing kept from one to the next.
  def beyond(lines, step, warning, critical, back, lasting)
    means = lines.group_by { |line| line.at / step }.transform_values { |some| some.sum(&:took) / some.size.to_f }
    means.keys.sort.filter_map do |at|
      began = begin_of_hold(means, at, warning, back) or next
      ends = (at + 1) * step
      [began * step, ends, means[at] > critical] if ends - (began * step) >= lasting
    end
  end

  # @return [Integer, nil] the step in which what holds in this one began
  def begin_of_hold(means, at, warning, back)
    run = [at]
    run.unshift(run.first - 1) while means.key?(run.first - 1)
    run.each_with_index.inject(nil) do |began, (one, _)|
      if began
        means[one] > back ? began : nil
      else
        means[one] > warning ? one : nil
      end
    end
  end

  def measured(random)
    Array.new(random.rand(1..80)) do
      Line.new(random.rand(0..400), :lines, ["ida", nil].sample(random: random), random.rand(0..100))
    end
  end

  def test_a_measure_beyond_a_level
    random = seeded(74)
    often(400, 2500).times do |round|
      step = random.rand(5..40)
      warning = random.rand(20..80)
      critical = warning + random.rand(0..20)
      back = warning - random.rand(0..20)
      lasting = [0, random.rand(0..3) * step].sample(random: random)
      sent = measured(random)
      one = rule({ "measure" => { "find" => "knock", "of" => "avg(took)", "above" => warning, "critical" => critical,
                                  "back" => back, "for" => "#{lasting}s", "within" => "#{step}s",
                                  "by" => ["user.name"] } }, quiet: "#{step * 2}s")
      expected = by_user(sent, step * 2) { |some| beyond(some, step, warning, critical, back, lasting) }
      assert_equal expected, spans(one, shuffled(sent, random)), "round #{round}: #{one.in_words} of #{sent}"
    end
  end

  MEASURE = { "find" => "x", "of" => "avg(took)", "above" => 2, "within" => "60s" }.freeze
  UNFIT = {
    "of" => [{ "of" => "avg(took) by host.name" }, { "of" => "sideways(took)" }], "back" => [{ "back" => 3 }],
    "above" => [{ "below" => 1 }, { "above" => "much" }], "critical" => [{ "critical" => 1 }],
    "for" => [{ "for" => "long" }]
  }.freeze

  def test_a_measure_that_will_not_do_is_told_at_its_part
    UNFIT.each do |part, changes|
      changes.each do |change|
        mistake = assert_raises(Rules::Mistake, change) { rule({ "measure" => MEASURE.merge(change) }) }
        assert_equal part, mistake.part
      end
    end
    count = MEASURE.except("above").merge("of" => "count", "below" => 3)
    assert_equal "below", assert_raises(Rules::Mistake) { rule({ "measure" => count }) }.part
    joined = { "first" => "a", "then" => "b", "within" => "60s" }
    assert_equal "join", assert_raises(Rules::Mistake) { rule({ "unfinished" => joined }) }.part
    assert_equal "a, and no b within 1 min of the same job",
                 rule({ "unfinished" => joined.merge("join" => "job") }).in_words
  end

  def test_what_begins_and_never_ends
    random = seeded(75)
    often(400, 2500).times do |round|
      within = random.rand(1..60)
      sent = lines(%i[first first then], random).each { |line| line.took = random.rand(1..4) }
      one = rule({ "unfinished" => { "first" => "refused", "then" => "welcome", "join" => "took",
                                     "within" => "#{within}s", "by" => ["user.name"] } }, quiet: "#{within}s")
      known_to = sent.map(&:at).max + 10_000 - TOLERANCE
      expected = by_user(sent, within) { |some| never_ended(some, within, known_to) }
      assert_equal expected, spans(one, shuffled(sent, random)), "round #{round}: #{within} of #{sent}"
    end
  end

  def never_ended(lines, within, known_to)
    begun = lines.select { |line| line.role == :first && line.at + within < known_to }
    begun.uniq.reject { |one| lines.any? { |line| line.role == :then && ended_by?(line, one, within) } }
      .map { |one| [one.at, one.at + within] }
  end

  def ended_by?(line, one, within) = line.took == one.took && (line.at - one.at).between?(0, within)

  # What many rules are left aside by leaves none aside that holds.
  def test_no_rule_is_left_aside_that_holds
    rules = FINDS.map { |find| rule({ "count" => { "find" => find.empty? ? "*" : find } }) }
    engine = Watch::Engine.new(rules, tolerance_us: 10**15)
    matchers = rules.map { |one| Find::Matcher.new(one.parts[:lines]) }
    TEXTS.product([3, 4, 6, Severity::UNSET], [nil, "alder", "tix-db-1"],
                  [nil, "app", "disk"]).each_with_index do |line, at|
      text, severity, machine, service = line
      fields = { "host.name" => machine, "service.name" => service, "user.name" => text[/ida/] }.compact
      one = Find::Matcher::Subject.new(severity, text, machine, service, text, -> { text }, -> { fields })
      expected = rules.zip(matchers).filter_map { |own, matcher| own if matcher.match?(one) }
      assert_equal expected.map(&:finds), engine.feed(at, one).map { |firing| firing.rule.finds }.sort_by { |finds|
        FINDS.index(finds[:lines]) || FINDS.size
      }, line.inspect
    end
  end

  # Where the search cannot tell, each rule is asked.
  def test_no_rule_is_left_aside_where_the_search_fails
    failing = Class.new(SimpleDelegator) { def match(*, **) = raise(RE2::Set::MatchError, "out of memory") }
    finds = %w[disk ida].push("disk full")
    set = RE2::Set.method(:new)
    RE2::Set.stub(:new, ->(*form, **options) { failing.new(set.call(*form, **options)) }) do
      index = Watch::Index.new(finds.map { |find| rule({ "count" => { "find" => find } }) })
      parts = index.parts("nothing of it", 6)
      assert_equal(finds, parts.map { |part| part.rule.finds[:lines] })
    end
  end

  # On their way in lines are judged as they are once they are stored.
  def test_no_line_is_left_aside_that_a_rule_is_about
    finds = FINDS.reject(&:empty?) + ["not has user.name", "took > 5", "has took", "level = warn", "pattern = P1"]
    lines = TEXTS + ["took=7ms user=ida disk", "{\"level\":\"warn\",\"msg\":\"disk \\u00fc full: 1\",\"took\":9}"]
    lines.each do |text|
      event = Reading::Catalogue.read("2026-11-22T06:00:00Z alder app: #{text}", context)
      finds.each do |find|
        wanted = Watch::Lookout.new([{ "name" => "x", "when" => { "count" => { "find" => find } } }])
        held = Find::Matcher.new(Find::Parser.parse(find)).match?(Find::Subjects.of(event, "a.log"))
        expected = held || find.include?("pattern")
        assert_equal expected, wanted.wanted?(event, nil, "a.log", nil), "#{find} of #{text}"
      end
    end
  end

  def context
    Reading::Context.new(clock: Reading::Clock.new(zone: "UTC", reference_us: Time.utc(2026, 11, 23).to_i * SECOND))
  end
end
