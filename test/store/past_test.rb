# frozen_string_literal: true

require_relative "../test_helper"
require "minitest/mock"

# When rules of the logbook change, what is in the logbook afterwards is what these rules read out of all lines.
class PastTest < Northdrift::StoreTest
  include Northdrift

  # What the rules that ship are tried on, each as a line of its own.
  SAMPLES = Logbook::Catalogue.shipped.rules.flat_map(&:samples).grep_v(/\n/).uniq.freeze
  FINDS = [
    "severity <= error", "severity >= warning", "killed or oom", "text ~ /link (is )?(up|down)/",
    "not (user or session)", 'service.name = "sshd"', "has user.name", "restarted", "nowhere.to.be.found = 3",
    "host.role = berth"
  ].freeze

  def own(find, says)
    Store::LogbookRule.create!(
      name: says, kind: "change", find: find, take: "", says: says, severity: "", created_us: 1, enabled: true
    )
  end

  def catalogue = Store::LogbookSwitch.catalogue

  def read_past(at = 0) = Store::Past.read(catalogue, at)

  def told = Store::Database.rows("SELECT event_id, rule, says FROM happenings ORDER BY 1")

  # @return [Array<Array>] the same, read out of every line by the rules that hold
  def wanted
    names = Store::Source.pluck(:id, :name).to_h
    question
      .to_enum(:each)
      .filter_map do |event|
        catalogue.read(event.event, names[event.source_id], Store::Fleet.current.said)
          &.then { |one| [event.id, one.rule, one.says] }
      end
      .sort
  end

  def come(lines) = import_text("#{lines.join("\n")}\n", name: "#{@files = @files.to_i + 1}.log")

  def test_whatever_changes_in_whatever_order
    random = Random.new(11)
    lines = SAMPLES.shuffle(random: random)
    come(lines.shift(150))
    rules = []
    shipped = told.map { |_, rule,| rule }.uniq
    14.times do |step|
      case random.rand(4)
      when 0, 1
        rules << own(FINDS[random.rand(FINDS.size)], "rule #{step}")
      when 2
        rules.sample(random: random)
          &.then do |rule|
            [
              -> { rule.update!(enabled: !rule.enabled) }, -> { rule.update!(find: FINDS[step % FINDS.size]) },
              -> { rule.update!(deleted_us: 1) }
            ][
              random.rand(3)
            ].call
          end
      else
        shipped
          .sample(2, random: random)
          .each { |id| Store::LogbookSwitch.where(rule: id).delete_all.zero? && Store::LogbookSwitch.create!(rule: id) }
      end
      next if random.rand(3).zero? # the rules change again before they were read with

      come(lines.shift(12)) if random.rand(2).zero?

      read_past(step)
      assert_equal wanted, told, "after step #{step}"
    end
    read_past
    assert_equal wanted, told
    refute Store::Past.behind?(catalogue)
  end

  # What reads lines looks at the rules each second; some were read by those of before when the reading of the past went
  # by.
  def test_lines_that_were_read_by_the_rules_of_before_are_looked_at_once_more
    come(SAMPLES.first(20))
    before = Store::LogbookSwitch.definition
    own("severity <= critical or killed", "is grave")
    assert read_past(100)
    Store::LogbookSwitch.stub(:definition, before) { come(SAMPLES.grep(/killed|panic/i)) }
    refute_equal wanted, told
    refute read_past(101), "not before its time"
    assert read_past(100 + Store::Past::AGAIN_US)
    assert_equal wanted, told
    assert(told.any? { |_, _, says| says == "is grave" })
    refute read_past(200 + Store::Past::AGAIN_US), "and once only"
  end

  # A database of before knows which rules it was read with by their version alone; one that was read by older rules
  # that ship, too.
  def test_rules_that_are_not_known_any_more_have_all_lines_read
    come(SAMPLES.first(60))
    Store::Database.rows("DELETE FROM happenings")
    Store::Setting.set("logbook", "older")
    [
      nil, Oj.dump({ "shipped" => "older", "off" => [], "own" => [], "version" => "older" }, mode: :strict)
    ].each do |rules|
      rules ? Store::Setting.set("logbook-rules", rules) : Store::Setting.where(name: "logbook-rules").delete_all
      Store::Setting.set("logbook", "older")
      Store::Database.rows("DELETE FROM happenings")
      assert read_past
      assert_equal wanted, told
    end
    refute_empty told
  end

  # As many as make one question still, more, and all that ship: no question may become too large for the database.
  def test_many_rules_at_once
    come(SAMPLES)
    before = told
    [Store::Past::MOST_FINDS, 60, Logbook::Catalogue.shipped.rules.size].each do |many|
      Logbook::Catalogue.shipped.rules.first(many).each { |rule| Store::LogbookSwitch.create!(rule: rule.id) }
      read_past
      assert_equal wanted, told
      Store::LogbookSwitch.delete_all
      read_past
      assert_equal before, told, "#{many} were off"
    end
  end

  def test_what_is_stopped_goes_on_where_it_was
    come(SAMPLES.first(200))
    own("not nothing", "any line")
    assert Store::Past.read(catalogue, 0, stop: -> { true })
    assert_in_delta(0.0, Store::Past.progress(catalogue))
    read_past
    assert_equal [wanted, nil], [told, Store::Past.progress(catalogue)]
  end
end
