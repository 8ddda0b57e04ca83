# frozen_string_literal: true

require_relative "../test_helper"

# The alert rules that ship: each is raised by the lines that it is for, and by no fewer.
class WatchRulesTest < Northdrift::StoreTest
  include Northdrift

  RULES = Watch::Catalogue.families.flat_map(&:rules).to_h { |one| [one["id"], Watch::Rule.new(one)] }
  SAMPLES = Watch::Catalogue.samples

  def test_each_has_a_name_why_it_matters_and_what_to_do
    assert_operator RULES.size, :>=, 40
    assert_equal RULES.size, RULES.values.map(&:name).uniq.size
    RULES.each { |id, rule| assert_equal [false, false], [rule.why, rule.steps].map(&:empty?), id }
  end

  # Of texts of the logbook there are samples of their own, and what is found out has tests of its own.
  def test_each_is_about_lines_that_there_are_samples_of
    of_texts, of_entries = RULES.reject { |_, rule| rule.discovery }.partition { |_, rule| rule.kinds.nil? }
    assert_equal of_texts.map(&:first).sort, SAMPLES.keys.sort
    known = Logbook::Catalogue.shipped.rules.select { |rule| rule.samples.any? }.map(&:kind).uniq +
            Store::AlertTrial::NOTICED
    of_entries.each { |id, rule| assert_empty rule.kinds - known, id }
  end

  # As syslog daemons write them (RFC 5424, section 6.2.3, for the time), one a second; those that have a time of their
  # own keep it.
  def text(sample, second)
    return sample.sub("{second}", format("%02d", second % 60)) if sample.include?("{second}")

    "#{(Time.utc(2026, 11, 22, 6) + second).strftime('%FT%TZ')} #{sample}"
  end

  def raised(rule) = Store::AlertTrial.new(rule, Time.utc(2026, 11, 1).to_i * 1_000_000, Store::Clock.now_us).found.size

  SAMPLES.each do |id, (first, *others)|
    define_method("test_#{id.tr('-', '_')}") do
      rule = RULES.fetch(id)
      before = Array.new(rule.least - 1) { |second| "#{text(first, second)}\n" }
      later = others.map.with_index { |other, at| "#{text(other, rule.least + at)}\n" }
      import_text((before + later).join, name: "few.log", machine: "alder") if before.any? || later.any?
      assert_equal 0, raised(rule), "before it is often enough"
      Store::Removal.take_out(Store::Database.rows("SELECT id FROM events").flatten)
      # A file that begins as another is that one, grown.
      all = ["all of it\n", *before, "#{text(first, rule.least - 1)}\n", *later].join
      import_text(all, name: "all.log", machine: "alder")
      assert_equal 1, raised(rule)
    end
  end
end
