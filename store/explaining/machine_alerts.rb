# frozen_string_literal: true

module Northdrift
  module Store
    # The alerts that are not closed, by the machine that they are about. Those that nobody is told of are left out.
    class MachineAlerts
      # An alert in short.
      One = Struct.new(:machine, :id, :name, :severity, :state)

      def initialize
        @all = standing.group_by(&:machine)
      end

      # @return [Array<String>] machines that have one, the worst first
      def machines = @all.sort_by { |_, own| own.first.severity }.map(&:first)

      # @param machine [String]
      # @return [Array<One>] the worst first, then the latest
      def of(machine) = @all.fetch(machine, [])

      # @param machine [String]
      # @return [Boolean]
      def any?(machine) = @all.key?(machine)

      private

      def standing
        Alert.where.not(state: "closed").where.not(machine: nil).where(quiet_id: nil)
          .order(:severity, raised_us: :desc, id: :desc).pluck(*One.members).map { |row| One.new(*row) }
      end
    end
  end
end
