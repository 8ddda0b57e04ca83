# frozen_string_literal: true

require_relative "../test_helper"

# Values of fields without their lines are those of the lines.
class LineValuesTest < Northdrift::StoreTest
  include Northdrift

  LINES = <<~LOG
    <11>1 2026-11-22T06:00:00Z alder shop 1 - - took duration_ms=12 user=ida
    <11>1 2026-11-22T06:00:02Z birch shop 1 - - took duration_ms=7
    {"time":"2026-11-22T06:00:01Z","host":"cedar","level":"warn","msg":"slow","took":3,"more":{"deep":true}}
    {"time":"2026-11-22T06:00:03Z","msg":"no machine","user":"ida","a b":"x"}
    Nov 22 06:00:05 alder kernel: nothing of it
  LOG

  def test_they_are_those_of_the_lines
    import_text(LINES)
    Store::Fleet.keep(Northdrift::Fleet::Roster.read("machine,site,tags\nalder,oslo,old new\n"))
    lines = question("").page.events
    fields = lines.flat_map { |line| line.fields.keys }.uniq + %w[host.name service.name reader]
    assert_operator fields.size, :>, 8
    [fields, ["host.name"], %w[host.site duration_ms], ["a b"], %w[nothing]].each do |asked|
      found = question("").values_of(asked).to_enum(:each).sort_by { |_, time_us| time_us }
      assert_equal(lines.map(&:time_us), found.map { |_, time_us| time_us })
      expected = lines.map { |line| line.fields.merge(line.kind.constants).slice(*asked) }
      assert_equal(expected, found.map { |_, _, values| values.compact })
    end
    pattern, source = question("duration_ms = 7").values_of(%w[pattern source]).to_enum(:each).first.last
      .values_at("pattern", "source")
    assert_equal 1, question("pattern = #{pattern} duration_ms = 7").total
    assert_equal Store::Source.sole.name, source
  end
end
