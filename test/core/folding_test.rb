# frozen_string_literal: true

require_relative "../test_helper"

# Which alert is behind which.
class FoldingTest < Minitest::Test
  include Northdrift

  MINUTE = 60_000_000
  EDGES = [%w[gate app], %w[app db], %w[db switch], %w[mail switch], %w[app host]].freeze

  def folding
    edges = EDGES.map { |machine, on| Fleet::Dependencies::Edge.new(machine, on, "needs") }
    Watch::Folding.new(Fleet::Dependencies.new(edges))
  end

  def one(machine, minute, id: machine) = Watch::Folding::One.new(id, machine, minute * MINUTE)

  def root(fresh, *others) = folding.root(fresh, others)&.id

  def test_the_one_nearest_the_root_is_behind_the_others
    assert_equal "switch", root(one("gate", 4), one("app", 3), one("switch", 0), one("db", 1))
    assert_equal "db", root(one("gate", 4), one("app", 3), one("db", 1))
  end

  def test_what_stands_beside_is_not_behind_it
    assert_nil root(one("db", 1), one("mail", 0))
    assert_nil root(one("switch", 1), one("gate", 0))
  end

  def test_of_one_machine_the_first_is_behind_the_others
    assert_equal :first, root(one("app", 3), one("app", 2, id: :second), one("app", 1, id: :first))
  end

  def test_only_within_ten_minutes
    assert_equal "switch", root(one("app", 10), one("switch", 0))
    assert_nil root(one("app", 11), one("switch", 0))
  end

  def test_one_that_comes_late_takes_in_those_above_it
    late = folding.folded(one("switch", 5), [one("gate", 1), one("mail", 4), one("host", 3), one("db", 20)])
    assert_equal %w[gate mail], late.map(&:id)
  end

  def test_the_way_is_told
    assert_equal %w[gate app db switch], folding.path("gate", "switch")
    assert_equal %w[app], folding.path("app", "app")
  end

  # Whatever the order in which they come, all stand under one: on a chain, all that come within ten minutes.
  def test_in_any_order_a_chain_is_one_trouble
    chain = %w[gate app db switch].map { |machine| one(machine, 0) }
    chain.permutation.each do |order|
      roots = {}
      order.each do |fresh|
        standing = order.take_while { |other| other != fresh }.reject { |other| roots.key?(other.id) }
        found = folding.root(fresh, standing)
        found ? roots[fresh.id] = found.id : folding.folded(fresh, standing).each { |other| roots[other.id] = fresh.id }
      end
      assert_equal 1, chain.size - roots.size, order.map(&:id).join(" ")
    end
  end
end
