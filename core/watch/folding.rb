# frozen_string_literal: true

module Northdrift
  module Watch
    # Which of several alerts is the one trouble behind the others: they were raised within minutes of each other on
    # machines of one chain of dependencies, and it stands nearest to the root of that.
    class Folding
      WITHIN_US = 600 * 1_000_000

      # An alert that is folded under no other.
      # @!attribute id [Object]
      # @!attribute machine [String]
      # @!attribute raised_us [Integer]
      One = Struct.new(:id, :machine, :raised_us)

      # @param dependencies [Fleet::Dependencies]
      def initialize(dependencies)
        @dependencies = dependencies
      end

      # @param fresh [One] that was just raised
      # @param others [Array<One>]
      # @return [One, nil] the one that it is folded under
      def root(fresh, others)
        below = @dependencies.reach(fresh.machine)
        near(fresh, others).select { |one| below.key?(one.machine) }
          .min_by { |one| [-below[one.machine], one.raised_us] }
      end

      # @param fresh [One] that was just raised, and has no root
      # @param others [Array<One>]
      # @return [Array<One>] those that are folded under it
      def folded(fresh, others)
        above = @dependencies.dependants(fresh.machine)
        near(fresh, others).select { |one| above.key?(one.machine) && one.machine != fresh.machine }
      end

      # @return [Array<String>] machines from one to the other, each of which cannot do without the next
      def path(machine, root)
        before = { machine => nil }
        queue = [machine]
        while (from = queue.shift) && !before.key?(root)
          @dependencies.below(from).each { |to| (before[to] = from) && queue << to unless before.key?(to) }
        end
        way = [root]
        way.unshift(before[way.first]) while before[way.first]
        way
      end

      private

      def near(fresh, others)
        others.select { |one| one.id != fresh.id && (one.raised_us - fresh.raised_us).abs <= WITHIN_US }
      end
    end
  end
end
