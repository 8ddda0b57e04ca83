# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # How the machines are: what they wrote in the last 24 hours, who is silent, what is wrong, and what versions they
    # have.
    class FleetReport
      HOURS = 24
      # What ends a trouble: kinds of happenings, and where the words tell it, what they say.
      ENDS = {
        "service-failure" => %w[service-start], "service-crash" => %w[service-start],
        "restart-loop" => %w[service-start], "memory-kill" => %w[service-start machine-start],
        "machine-crash" => %w[machine-start], "machine-stop" => %w[machine-start], "disk" => [], "hardware" => [],
        "certificate" => [], "address" => [], "link" => [], "clock" => []
      }.freeze
      BETTER = /\b(?:up|activated|again|renewed|Gained)\b/i
      # Rules that tell a version, what it is of, and the value that has it.
      VERSIONS = {
        "kernel.boot" => %w[kernel version], "packages.firmware-updated" => %w[firmware after],
        "packages.deployed" => %w[deployed version]
      }.freeze
      # Without further lines a trouble is taken to be over after so long: who has it, says so again.
      TROUBLE_US = 6 * 3_600_000_000

      # @!attribute rule [String]
      # @!attribute happening [Happenings::Kept] the latest of it
      # @!attribute times [Integer]
      Problem = Struct.new(:rule, :happening, :times)

      # @!attribute name [String]
      # @!attribute said [Northdrift::Fleet::Roster::Machine] what people say of it
      # @!attribute strip [Array<Array<Integer>>] counts of the nine severities by hour
      # @!attribute heard_us [Integer, nil] its last line
      # @!attribute silent_us [Integer, nil] for how long it has said nothing, where it normally would have
      # @!attribute restarts [Integer] in the last ten days
      # @!attribute problems [Array<Problem>] that have not ended, the worst first
      # @!attribute alerts [Array<MachineAlerts::One>] that are not closed, the worst first
      # @!attribute versions [Hash{String=>String}]
      # @!attribute derived [Boolean] whether it was named after where its lines came from
      # @!attribute tier [Integer] for drawing
      Machine =
        Struct.new(
          :name, :said, :strip, :heard_us, :silent_us, :restarts, :problems, :alerts, :versions, :derived, :tier,
          keyword_init: true
        )

      # @return [Integer] the moment that it is of: now, or the last line
      attr_reader :to_us

      # @param now_us [Integer]
      def initialize(now_us)
        @to_us = [now_us, Span.all.last].min
        @from_us = @to_us - (HOURS * Rollup::HOUR)
        @fleet = Fleet.current
      end

      # @return [Integer] where the first hour of the strips starts
      def start_us = (@to_us / Rollup::HOUR * Rollup::HOUR) - ((HOURS - 1) * Rollup::HOUR)

      # @return [Array<String>] all machines, those that never wrote a line too
      def names = @names ||= (Kinds.current.filter_map(&:machine) | @fleet.roster.map(&:name)).sort

      # @return [Hash{String=>Array<Problem>}] that have not ended, the worst first, by machine
      def problems = @problems ||= open_problems

      # @return [MachineAlerts]
      def alerts = @alerts ||= MachineAlerts.new

      # @return [Hash{String=>Integer}] for how long machines have said nothing, where they normally would have
      def silent
        @silent ||=
          Silences.of(@from_us, @to_us).select(&:open).to_h { |one| [one.machine, one.to_us - one.from_us] }
      end

      # @param names [Array<String>] of the machines that are wanted
      # @return [Array<Machine>] in their order
      def machines(names = self.names)
        strips = strips(names)
        heard = heard(names)
        restarts = Restarts.new(from_us: @to_us - (10 * Question::DAY_US)).machines
        versions = versions()
        derived = Renaming.derived.to_set
        tiers = @fleet.dependencies.tiers(names)
        names.map do |name|
          Machine.new(
            name: name, said: @fleet.entry(name), strip: strips.fetch(name) { Array.new(HOURS) { Array.new(9, 0) } },
            heard_us: heard[name], silent_us: silent[name], restarts: restarts.fetch(name, 0),
            problems: problems.fetch(name, []), alerts: alerts.of(name), versions: versions.fetch(name, {}),
            derived: derived.include?(name), tier: tiers.fetch(name, 0)
          )
        end
      end

      private

      def strips(names)
        slots = Rollup::HOUR / Rollup::SLOT
        first = start_us / Rollup::HOUR
        named, binds = of_machines(names)
        rows =
          Database.rows(
            "SELECT kinds.machine, slot / #{slots}, severity, sum(n) FROM kind_counts JOIN kinds ON kinds.id = " \
            "kind_id WHERE slot >= ? AND #{named} GROUP BY 1, 2, 3",
            [first * slots, *binds]
          )
        rows.each_with_object({}) do |(name, hour, severity, n), all|
          strip = all[name] ||= Array.new(HOURS) { Array.new(9, 0) }
          strip[hour - first][severity] += n if (hour - first).between?(0, HOURS - 1)
        end
      end

      # The last line of each machine: first by ten minutes, then within those.
      def heard(names)
        named, binds = of_machines(names)
        slots =
          Database.rows(
            "SELECT kinds.machine, max(slot) FROM kind_counts JOIN kinds ON kinds.id = kind_id WHERE #{named} " \
            "GROUP BY 1", binds
          ).to_h
        kinds = Kinds.current.group_by(&:machine)
        slots.to_h do |name, slot|
          ids = kinds.fetch(name).map(&:id).join(",")
          id = Database.value(
            "SELECT id FROM events WHERE id >= ? AND id < ? AND kind_id IN (#{ids}) ORDER BY id DESC LIMIT 1",
            [EventId.first(slot * Rollup::SLOT), EventId.first((slot + 1) * Rollup::SLOT)]
          )
          [name, id ? EventId.micros(id) : slot * Rollup::SLOT]
        end
      end

      def of_machines(names)
        ["kinds.machine IN (SELECT value FROM json_each(?))", [Oj.dump(names, mode: :strict)]]
      end

      def open_problems
        found =
          Happenings
            .of(kinds: ENDS.keys | ENDS.values.flatten, from_us: @to_us - TROUBLE_US)
            .select(&:machine)
            .group_by(&:machine)
        found.transform_values { |own| open_of(own) }.reject { |_, own| own.empty? }
      end

      # @param own [Array<Happenings::Kept>] of one machine
      def open_of(own)
        bad =
          own
            .select { |one| ENDS.key?(one.kind) && one.severity <= Severity::ERROR && !BETTER.match?(one.says) }
            .group_by(&:rule)
        bad
          .map { |rule, all| Problem.new(rule, all.last, all.size) }
          .reject { |one| ended?(one.happening, own) }
          .sort_by { |one| [one.happening.severity, -one.happening.time_us] }
      end

      def ended?(trouble, own)
        own.any? do |one|
          one.time_us >= trouble.time_us && one.id != trouble.id &&
            (ENDS.fetch(trouble.kind).include?(one.kind) || (one.kind == trouble.kind && BETTER.match?(one.says)))
        end
      end

      def versions
        Happenings.of(rules: VERSIONS.keys).select(&:machine).each_with_object({}) do |one, all|
          what, field = VERSIONS.fetch(one.rule)
          value = one.fields[field] or next
          (all[one.machine] ||= {})[what] = value
        end
      end
    end
  end
end
