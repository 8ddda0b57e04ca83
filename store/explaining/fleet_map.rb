# frozen_string_literal: true

module Northdrift
  module Store
    # Which machines are drawn: those with arrows, then those that are not well, then others, as many as can be told
    # apart.
    class FleetMap
      MOST = 600

      # @param report [FleetReport]
      # @param most [Integer]
      def initialize(report, most: MOST)
        @report = report
        @most = most
      end

      # @return [Array<String>] names, sorted
      def drawn
        @drawn ||=
          [
            Fleet.current.dependencies.machines, @report.alerts.machines & @report.names, @report.problems.keys,
            @report.silent.keys, @report.names
          ].reduce(:|).first(@most).sort
      end

      # @return [Array<Northdrift::Fleet::Dependencies::Edge>] between machines that are drawn
      def edges
        known = drawn.to_set
        Fleet.current.dependencies.edges.select { |edge| known.include?(edge.machine) && known.include?(edge.on) }
      end

      # @return [Integer] machines that are not drawn
      def others = (@report.names | drawn).size - drawn.size
    end
  end
end
