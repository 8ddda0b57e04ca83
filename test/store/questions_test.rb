# frozen_string_literal: true

require_relative "../test_helper"

# The database and the plain matcher must agree on any question over any events.
class QuestionsTest < Northdrift::StoreTest
  include Northdrift

  WORDS = %w[
    disk full timeout pool booking BK-88214 tix-db-1 10.20.3.4 /dev/sda1 ERR_TIMEOUT error_code naïve Ünïcode жук
    0x80070005 a->b user@host retry=3 x
  ].freeze
  HOSTS = %w[tix-app-1 tix-db-1 gate-brn-1 timeout-box].freeze

  def text(random)
    Array.new(random.rand(1..7)) { WORDS[random.rand(WORDS.size)] }.join([" ", " ", ", ", ": "][random.rand(4)])
  end

  def line(random, index)
    time = NOW - 7200 + (index * 3) + random.rand.round(3)
    host = HOSTS[random.rand(4)]
    case random.rand(6)
    when 0
      "<#{random.rand(192)}>1 #{time.strftime('%FT%T.%LZ')} #{host} app#{random.rand(3)} #{random.rand(9)} - [m@1 " \
      "request.id=\"#{random.rand(5)}a\"] #{text(random)}"
    when 1
      "#{time.strftime('%b %e %T')} #{host} svc[#{random.rand(9)}]: #{text(random)} took=#{random.rand(900)}ms"
    when 2
      Oj.dump(
        {
          "time" => time.iso8601(3), "level" => %w[info error warn][random.rand(3)], "msg" => text(random),
          "duration_ms" => random.rand(3000), "note" => "tab\there “#{text(random)}”"
        }, mode: :strict
      )
    when 3
      client = "10.40.#{random.rand(3)}.#{random.rand(9)}"
      request = "GET /#{WORDS[random.rand(5)]} HTTP/1.1"
      status = [200, 404, 503][random.rand(3)]
      "#{client} - - [#{time.strftime('%d/%b/%Y:%T +0000')}] \"#{request}\" #{status} #{random.rand(5000)}"
    when 4
      "ts=#{time.iso8601(3)} level=debug msg=\"#{text(random)}\" bytes=#{random.rand(20)}KB user=" \
      "#{%w[ida root][random.rand(2)]}"
    else
      "#{time.strftime('%F %T')} #{text(random)}\n\tat #{text(random)}"
    end
  end

  LEAVES = [
    ->(random) { WORDS[random.rand(WORDS.size)] },
    ->(random) { "\"#{WORDS[random.rand(WORDS.size)]} #{WORDS[random.rand(WORDS.size)]}\"" },
    ->(random) { "#{WORDS[random.rand(WORDS.size)][0, 3]}*" },
    ->(random) { "*#{WORDS[random.rand(WORDS.size)][1, 3]}*" }, ->(random) { "host.name = #{HOSTS[random.rand(4)]}" },
    ->(_) { "host.name = t*" }, ->(random) { "severity >= #{Severity::NAMES[random.rand(8)]}" },
    ->(_) { "severity = unset" }, ->(random) { "duration_ms > #{random.rand(3000)}" }, ->(_) { "duration_ms <= 1.5s" },
    ->(_) { "bytes >= 10KB" }, ->(_) { "client.address = 10.40.1.0/24" }, ->(_) { "user.name in (ida, nobody)" },
    ->(_) { "has request.id" }, ->(random) { "request.id = #{random.rand(6)}a" },
    ->(_) { "message ~ /time\\w+ (full|pool)/" }, ->(_) { "message ~ /out,? disk full/" },
    ->(_) { "text !~ /^<\\d/" }, ->(_) { "reader = json" }, ->(_) { "took > 300ms" },
    ->(_) { "http.response.status_code >= 400" }, ->(_) { "source = b.log" }, ->(_) { "e*r" },
    ->(_) { "service.name != svc" }
  ].freeze

  def find_text(random, depth = 0)
    return LEAVES[random.rand(LEAVES.size)].call(random) if depth > 2 || random.rand < 0.45

    case random.rand(4)
    when 0 then "#{find_text(random, depth + 1)} #{find_text(random, depth + 1)}"
    when 1 then "(#{find_text(random, depth + 1)} or #{find_text(random, depth + 1)})"
    when 2 then "not #{find_text(random, depth + 1)}"
    else "#{find_text(random, depth + 1)} and #{find_text(random, depth + 1)}"
    end
  end

  def test_random_questions_over_random_events
    random = seeded(11)
    %w[a.log b.log].each do |name|
      import_text(
        "#{Array.new(700) { |index| line(random, index) }.join("\n")}\n\xFF\xFE bytes timeout \x00 pool\n".b, name: name
      )
    end
    all = question.to_enum(:each).to_a
    names = Store::Source.pluck(:id, :name).to_h
    assert_operator all.size, :>, 1300
    agreed = 0
    rounds = often(80, 1000)
    rounds.times do
      text = find_text(random)
      asked = question(text)
      matcher = Find::Matcher.new(asked.tree)
      expected = all.select { |event| matcher.match?(event.subject(names[event.source_id])) }.map(&:id)
      assert_equal expected, asked.to_enum(:each).map(&:id), "lines of: #{text}"
      assert_equal expected.size, asked.total, "number of: #{text}"
      assert_equal expected.size, asked.histogram(by: %i[machine service].sample(random: random), bins: 40).total,
                   "histogram of: #{text}"
      agreed += 1 if expected.any? && expected.size < all.size
    end
    assert_operator agreed, :>, rounds * 2 / 5, "the questions must tell lines apart"
  end

  def test_windows_and_switched_off_severities_cut_exactly
    random = Random.new(5)
    import_text("#{Array.new(900) { |index| line(random, index) }.join("\n")}\n")
    all = question.to_enum(:each).to_a
    20.times do
      from, to = Array.new(2) { micros(NOW) - (random.rand * 7_000_000_000).round }.sort
      hidden = [6, 8].sample(random.rand(3), random: random)
      expected = all.select { |event| event.time_us >= from && event.time_us < to && !hidden.include?(event.severity) }
      asked = question("", from_us: from, to_us: to, hidden: hidden)
      assert_equal expected.map(&:id), asked.to_enum(:each).map(&:id)
      assert_equal expected.size, asked.total
      histogram = asked.histogram(bins: 30)
      by_step =
        expected.group_by { |event| (event.time_us - histogram.start_us) / histogram.step_us }.transform_values(&:size)
      assert_equal by_step,
                   histogram.series.flat_map { |series| series.counts.map { |step, counts| [step, counts.sum] } }.to_h
    end
  end
end
