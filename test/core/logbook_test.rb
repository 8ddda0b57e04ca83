# frozen_string_literal: true

require_relative "../test_helper"

# The rules of the logbook, each on the lines that it was made for. The samples name their public source beside them.
class LogbookTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  CATALOGUE = Logbook::Catalogue.shipped

  def happening(line) = CATALOGUE.read(read(line), "test")

  CATALOGUE.rules.each do |rule|
    define_method("test_#{rule.id}_reads_its_samples_and_has_no_blank_left") do
      refute_empty rule.samples
      rule.samples.each do |sample|
        found = happening(sample)
        assert_equal rule.id, found&.rule, sample
        # A restart may have been asked for by nobody who is named.
        refute_includes found.says, "not told", sample unless rule.id == "linux.reboot-asked"
      end
      assert_operator rule.source.length, :>, 8
    end
  end

  def test_ids_stand_once = assert_equal(CATALOGUE.rules.size, CATALOGUE.rules.map(&:id).uniq.size)

  def test_lines_of_every_day_are_no_happenings
    ["Nov 22 06:14:26 alder CRON[1]: (root) CMD (/usr/local/bin/started)", "Nov 22 06:14:26 alder app: Started to think", '{"msg":"COMMAND=reboot","level":"info"}',
     "10.0.0.1 - - [22/Nov/2026:06:12:09 +0100] \"GET /Killed process HTTP/1.1\" 200 88"].each { |line| assert_nil happening(line), line }
  end

  def test_what_it_says
    found = happening("<189>Nov 22 06:09:41 sw-core-1 %CONFIG-5-CHANGED: configuration changed by olav from 10.40.0.31: interface vlan 40, mtu 9000 -> 1500")
    assert_equal ["change", "sw-core-1", "olav changed the configuration: interface vlan 40, mtu 9000 -> 1500", "olav"], [found.kind, found.machine, found.says, found.fields["who"]]
  end
end
