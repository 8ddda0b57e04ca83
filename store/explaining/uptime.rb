# frozen_string_literal: true

module Northdrift
  module Store
    # Availability of the fleet within a window, from verdicts and silences.
    class Uptime
      # Shorter silences are not counted: they may be the network's.
      SHORTEST_US = 600_000_000

      # @param from_us [Integer]
      # @param to_us [Integer]
      # @param zone [ActiveSupport::TimeZone] whose days are wanted
      def initialize(from_us, to_us, zone)
        @zone = zone
        first, last = Span.all
        @from_us = [from_us, first].max
        @to_us = [to_us, last].min
      end

      # @return [Integer]
      attr_reader :from_us, :to_us

      # @return [Northdrift::Fleet::Availability]
      def availability
        @availability ||=
          Northdrift::Fleet::Availability.new(
            @from_us, [@to_us, @from_us].max, since: since, stretches: down + silent, zone: @zone
          )
      end

      # @return [Array<String>] machines that there are lines of
      def machines = since.keys.sort

      private

      def since
        @since ||=
          Database
            .rows(
              "SELECT kinds.machine, min(slot) FROM kind_counts JOIN kinds ON kinds.id = kind_id WHERE kinds.machine " \
              "IS NOT NULL GROUP BY 1"
            )
            .to_h
            .transform_values { |slot| slot * Rollup::SLOT }
      end

      def down
        restarts = Restarts.new(from_us: @from_us, to_us: @to_us)
        restarts.verdicts.reject(&:service).filter_map do |verdict|
          heard = restarts.heard(verdict) or next
          Northdrift::Fleet::Availability::Stretch.new(verdict.machine, :down, heard, verdict.start.time_us, verdict)
        end
      end

      def silent
        Silences
          .of(@from_us, @to_us)
          .select { |one| one.to_us - one.from_us >= SHORTEST_US }
          .map { |one| Northdrift::Fleet::Availability::Stretch.new(one.machine, :silent, one.from_us, one.to_us, one) }
      end
    end
  end
end
