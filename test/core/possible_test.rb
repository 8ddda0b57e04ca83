# frozen_string_literal: true

require_relative "../test_helper"

# What conditions say of a line of which only its machine is known.
class PossibleTest < Minitest::Test
  include Northdrift

  MACHINES = %w[tix-app-1 tix-app-2 gate-brn-1].freeze
  LEFT = {
    "" => MACHINES, "timed out" => MACHINES, "not timed" => MACHINES, "severity >= error" => MACHINES,
    "host.name = tix-app-1" => %w[tix-app-1], "host.name != tix-app-1" => %w[tix-app-2 gate-brn-1],
    "not host.name = tix-app-1" => %w[tix-app-2 gate-brn-1], "host.name = tix-*" => %w[tix-app-1 tix-app-2],
    "host.name in (tix-app-1, gate-brn-1)" => %w[tix-app-1 gate-brn-1],
    "not host.name in (tix-app-1, gate-brn-1)" => %w[tix-app-2], "host.name ~ /^gate/" => %w[gate-brn-1],
    "host.role = gate" => %w[gate-brn-1], "has host.role" => %w[gate-brn-1],
    # What the line itself must be asked leaves it open, and nothing that holds beside it can be undone by it.
    "host.name = tix-app-1 timed" => %w[tix-app-1], "host.name = tix-app-1 or timed" => MACHINES,
    "not (host.name = tix-app-1 and timed)" => MACHINES,
    "not (host.name = tix-app-1 or timed)" => %w[tix-app-2 gate-brn-1],
    "host.name = tix-app-1 host.name = tix-app-2" => []
  }.freeze

  LEFT.each_with_index do |(find, left), index|
    define_method("test_#{index}_#{find.gsub(/\W+/, '_')}") do
      possible = Find::Possible.new(Find::Parser.parse(find), ["host.name", "host.role"])
      fields = ->(name) { { "host.name" => name, "host.role" => ("gate" if name.start_with?("gate")) }.compact }
      assert_equal(left, MACHINES.select { |name| possible.possible?(fields.call(name)) })
    end
  end

  # It leaves out a machine only where the matcher takes none of its lines: both asked of the same random conditions.
  def test_no_line_that_fits_is_left_out
    random = Random.new(7)
    parts = ["host.name = a", "host.name != b", "host.name in (a, c)", "word", "severity >= error", "has x"]
    400.times do
      find =
        Array
          .new(random.rand(1..4)) { "#{'not ' if random.rand < 0.3}#{parts.sample(random: random)}" }
          .join([" ", " or "].sample(random: random))
      tree = Find::Parser.parse(find)
      possible = Find::Possible.new(tree, ["host.name"])
      matcher = Find::Matcher.new(tree)
      %w[a b c].product([3, 6], %w[word other], [{}, { "x" => 1 }]) do |name, severity, text, more|
        fields = { "host.name" => name }.merge(more)
        line = Find::Matcher::Subject.new(severity, text, name, nil, text, -> { text }, -> { fields })
        assert possible.possible?("host.name" => name), find if matcher.match?(line)
      end
    end
  end
end
