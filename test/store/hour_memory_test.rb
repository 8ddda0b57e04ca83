# frozen_string_literal: true

require_relative "../test_helper"

# What was counted of whole hours before is what would be counted now.
class HourMemoryTest < Northdrift::StoreTest
  include Northdrift

  DAY = Time.utc(2026, 11, 22)
  FINDS = ["took", "took severity >= warning", "took_ms > 400", "host.site = auk took", "not nothing"].freeze
  GROUPS = ["", " by host.name", " by service.name, severity", " by took_ms"].freeze
  PARSER = { name: "took", pattern: 'took (?P<took_ms>\d+)', types: '{"took_ms":"whole"}', created_us: 1,
             changed_us: 1 }
    .freeze

  def setup
    super
    @chance = seeded(11)
    @files = 0
    # A field that a find text names must be there.
    import_text("<14>1 2026-11-20T00:00:00Z elm shop 1 - - x took_ms=1\n")
    Store::Fleet.keep(Northdrift::Fleet::Roster.read(JSON.generate([{ machine: "alder", site: "auk" }])))
  end

  def write_lines
    lines = Array.new(30) do
      time = (DAY + @chance.rand(3 * 86_400)).strftime("%Y-%m-%dT%H:%M:%SZ")
      host = %w[alder birch cedar].sample(random: @chance)
      said = ["took #{@chance.rand(900)} ms", "nothing", "took_ms=#{@chance.rand(900)}"].sample(random: @chance)
      "<#{[11, 12, 14].sample(random: @chance)}>1 #{time} #{host} #{%w[shop gate].sample(random: @chance)} 1 - - " \
        "#{said}"
    end
    import_text("#{lines.join("\n")}\n", name: "file-#{@files += 1}.log")
  end

  # What may happen between one question and the next.
  def happen
    case @chance.rand(5)
    when 0, 1 then write_lines
    when 2 then Store::Removal.remove([Store::Source.ids.sample(random: @chance)])
    when 3 then say_of_machines
    else reread
    end
  end

  def say_of_machines
    site = %w[auk brn].sample(random: @chance)
    Store::Fleet.keep(Northdrift::Fleet::Roster.read(JSON.generate([{ machine: "birch", site: site }])))
  end

  def reread
    rule = Store::ParserRule.find_by(name: "took") || Store::ParserRule.create!(**PARSER)
    Store::Rereading.new(Store::Reread.of(rule, 1)).run
  end

  def measured(find, clause, from_us, to_us)
    question = question(find, from_us: from_us, to_us: to_us, checked: false)
    clause = Measure::Clause.parse("count#{clause}", known: -> { %w[took_ms] })
    one = Store::Measurement.new(question, clause: clause).count
    [one.total, one.rows.map(&:to_a), one.other&.to_a]
  end

  # All questions over a window, which moves from turn to turn.
  def all_measured(from_us, to_us, per)
    FINDS.product(GROUPS).to_h { |find, by| [[find, by], measured(find, by + per, from_us, to_us)] }
  end

  def test_it_is_as_if_all_were_counted_anew
    write_lines
    often(12, 100).times do |turn|
      happen
      per = ["", " per hour", " per 6 hours"].sample(random: @chance)
      from_us = micros(DAY) + (@chance.rand(12 * 60) * 60_000_000)
      to_us = from_us + ((30 + @chance.rand(24)) * 3_600_000_000) + @chance.rand(3_600_000_000)
      known = all_measured(from_us, to_us, per)
      Store::HourMemory.forget
      anew = all_measured(from_us, to_us, per)
      anew.each { |asked, wanted| assert_equal wanted, known[asked], "#{turn}: #{asked.join(' count')}#{per}" }
      find = FINDS.sample(random: @chance)
      total = question(find, from_us: from_us, to_us: to_us, checked: false).total
      assert_equal total, known[[find, GROUPS.sample(random: @chance)]][0]
    end
  end

  # What has not changed is not counted again.
  def test_only_what_is_new_is_counted
    asked = []
    hours = ->(range) { Store::HourMemory.current.recall("x", range) { |*run| asked << run && {} } }
    write_lines
    hour = micros(DAY) / 3_600_000_000
    hours.call(hour...(hour + 30))
    hours.call((hour + 1)...(hour + 32))
    assert_equal [[hour, hour + 30], [hour + 30, hour + 32]], asked
    asked.clear
    import_text("<14>1 #{(DAY + (5 * 3600) + 7).strftime('%Y-%m-%dT%H:%M:%SZ')} alder shop 1 - - took 5 ms\n")
    hours.call((hour + 1)...(hour + 32))
    assert_equal [[hour + 1, hour + 32]], asked, "another source: nothing is known for sure"
  end
end
