# frozen_string_literal: true

module Northdrift
  module Fleet
    # Which machine cannot do without which: a directed graph. A machine *needs* others whose services it uses, and
    # *runs on* a host. Trouble travels against the arrows, so a cause is looked for along them.
    class Dependencies
      KINDS = { "needs" => "needs", "runs-on" => "runs on" }.freeze

      # @!attribute machine [String] that cannot do without the other
      # @!attribute on [String]
      # @!attribute kind [String] see {KINDS}
      Edge = Struct.new(:machine, :on, :kind)

      # @return [Array<Edge>]
      attr_reader :edges

      # @param edges [Array<Edge>]
      def initialize(edges)
        @edges = edges.uniq
        @below = @edges.group_by(&:machine).transform_values { |own| own.map(&:on).uniq }
        @above = @edges.group_by(&:on).transform_values { |own| own.map(&:machine).uniq }
        @needs = @edges.select { |edge| edge.kind == "needs" }.group_by(&:machine)
        @hosts = @edges.select { |edge| edge.kind == "runs-on" }.to_h { |edge| [edge.machine, edge.on] }
      end

      # @return [Array<String>] machines that have an arrow
      def machines = @edges.flat_map { |edge| [edge.machine, edge.on] }.uniq

      # @return [Array<String>] what a machine cannot do without, at one step
      def below(machine) = @below.fetch(machine, [])

      # @return [Array<String>] what cannot do without a machine, at one step
      def above(machine) = @above.fetch(machine, [])

      # @return [Array<String>] machines whose services a machine uses
      def needs(machine) = @needs.fetch(machine, []).map(&:on)

      # @return [String, nil] the host that a machine runs on
      def host(machine) = @hosts[machine]

      # @return [Hash{String=>Integer}] everything that a machine cannot do without, and at how many steps; itself at
      #   none
      def reach(machine) = walk(machine, @below)

      # @return [Hash{String=>Integer}] everything that cannot do without a machine, and at how many steps; itself at
      #   none
      def dependants(machine) = walk(machine, @above)

      # @return [Array<String>] machines beside it: they share a host, or what uses them
      def neighbours(machine)
        siblings = below(machine).flat_map { |other| above(other) } + above(machine).flat_map { |other| below(other) }
        siblings.uniq - [machine] - reach(machine).keys
      end

      # Tiers for drawing: what needs nothing stands lowest (0), everything else above all that it needs. A circle of
      # machines that need each other stands on one tier.
      # @param machines [Array<String>] those that are to be drawn, with or without arrows
      # @return [Hash{String=>Integer}]
      def tiers(machines)
        tiers = {}
        machines.each { |machine| tier(machine, tiers) }
        tiers.slice(*machines)
      end

      private

      def walk(machine, arrows)
        steps = { machine => 0 }
        queue = [machine]
        while (from = queue.shift)
          arrows.fetch(from, []).each do |to|
            next if steps.key?(to)

            steps[to] = steps[from] + 1
            queue << to
          end
        end
        steps
      end

      # Chains may be long: what is still to be looked at waits in a list.
      def tier(machine, tiers)
        waiting = [machine]
        begun = Set.new
        while (name = waiting.last)
          if tiers.key?(name)
            waiting.pop
          elsif begun.add?(name)
            waiting.concat(below(name).reject { |other| begun.include?(other) })
          else
            tiers[name] = below(name).filter_map { |other| tiers[other] }.max.then { |most| most ? most + 1 : 0 }
          end
        end
      end
    end
  end
end
