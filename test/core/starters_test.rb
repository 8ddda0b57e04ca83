# frozen_string_literal: true

require_relative "../test_helper"

class StartersTest < Minitest::Test
  include Northdrift

  # Whatever the blanks are filled with, and with nothing in them, the language understands it.
  def test_every_search_can_be_asked
    Starters::Catalogue::ALL.each do |starter|
      [starter.probe, starter.find.gsub(/\{\w+\}/, "ida"), starter.find.gsub(/\{\w+\}/, "tix-app-1")].each do |text|
        refute_includes leaves(Find::Parser.parse(text)).join(" "), "{", "#{starter.name}: #{text}"
      end
      Measure::Clause.parse(starter.measure, known: -> { %w[duration_ms http.response.status_code] }) if starter.measure
      assert_equal starter.blanks.sort, starter.name.scan(/\{(\w+)\}/).flatten.sort, starter.name
    end
  end

  # @return [Array<String>] what a tree asks for
  def leaves(node) = node.is_a?(Struct) ? node.to_a.flatten.flat_map { |part| leaves(part) } : [node.to_s]

  def test_a_probe_asks_for_the_field_that_a_blank_is_of
    probes = Starters::Catalogue::ALL.to_h { |starter| [starter.find, starter.probe] }
    assert_equal "has service.name and severity >= warning", probes["service.name = {service} and severity >= warning"]
    assert_equal "(sudo or command or changed or session)",
                 probes['"{user}" and (sudo or command or changed or session)']
    assert_equal "", probes["{user}"]
  end
end
