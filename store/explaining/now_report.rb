# frozen_string_literal: true

module Northdrift
  module Store
    # What is wrong now, beside the alerts: machines that fell silent, troubles that have not ended, restarts without a
    # known reason, volumes out of their usual, error patterns that are new. And how services and machines have been
    # over the last day.
    class NowReport
      DAY_US = Question::DAY_US
      # A volume is of now while its hours ended so long ago.
      VOLUME_US = 3 * 3_600_000_000
      RESTARTS = 50
      STEP_US = 1_800_000_000
      STEPS = 48
      MOST_STRIPS = 40
      # New is what was not there for a day before, of lines that go back further.
      LEARN_US = 2 * DAY_US
      MOST_PATTERNS = 5
      FIELDS = { service: "service.name", machine: "host.name" }.freeze
      # About to end: what the logbook has of these is told before it is an error.
      ENDING = %w[certificate disk].freeze

      # @!attribute kind [String] silence, trouble, restart, volume or pattern
      # @!attribute says [String]
      # @!attribute find [String] for its lines
      Trouble = Struct.new(:kind, :severity, :machine, :says, :since_us, :find, keyword_init: true)

      # @!attribute counts [Array<Array<Integer>>] of the nine severities by half hour
      # @!attribute machines [Array<String>] of a service
      # @!attribute line [StoredEvent, nil] the latest of the worst
      Strip = Struct.new(:name, :counts, :machines, :line)

      # @return [Integer] the moment that it is of: now, or the last line
      attr_reader :to_us

      # @param now_us [Integer]
      def initialize(now_us)
        @now_us = now_us
        @to_us = [now_us, Span.all.last].min
        @from_us = @to_us - DAY_US
      end

      # @return [Array<Trouble>] the worst first, then the latest
      def troubles
        [*silences, *open_troubles, *restarts, *volumes, *patterns].sort_by { |one| [one.severity, -one.since_us] }
      end

      # @return [Integer] where the first half hour of the strips begins
      def start_us = (@to_us / STEP_US * STEP_US) - ((STEPS - 1) * STEP_US)

      # @param by [Symbol] :service or :machine
      # @return [Array<Strip>] those that were bad last come first
      def strips(by)
        counts = counts(by)
        kinds = Kinds.current.group_by(&by)
        strips = counts.keys.sort_by { |name| [worst(counts[name]), -counts[name].flatten.sum] }.first(MOST_STRIPS)
          .map do |name|
          Strip.new(name, counts[name], kinds.fetch(name, []).filter_map(&:machine).uniq,
                    line(by, name, counts[name]))
        end
        strips.sort_by { |one| [bad?(one) ? 0 : 1, -(one.line&.time_us || 0)] }
      end

      # @param most [Integer]
      # @return [Array<Happenings::Kept>] what was changed in the last day, the latest first
      def changes(most)
        Happenings.of(kinds: %w[change package platform account], from_us: @from_us,
                      to_us: @to_us + 1).last(most).reverse
      end

      private

      def bad?(strip) = strip.line && strip.line.severity <= Severity::WARNING

      def silences
        FleetReport.new(@now_us).silent.map do |machine, us|
          Trouble.new(kind: "silence", severity: Severity::WARNING, machine: machine, since_us: @to_us - us,
                      says: "Says nothing, unlike itself", find: Find::Spelling.equal("host.name", machine))
        end
      end

      def open_troubles
        known = FleetReport.new(@now_us).problems.values.flatten.map(&:happening)
        ending = Happenings.of(kinds: ENDING, from_us: @from_us, to_us: @to_us + 1)
          .select { |one| one.machine && one.severity <= Severity::WARNING }
          .group_by { |one| [one.machine, one.rule] }.map { |_, all| all.last }
        (known + ending).uniq(&:id).map { |one| of_entry("trouble", one, one.severity) }
      end

      def restarts
        unknown = Restarts.new(from_us: @from_us, to_us: @to_us + 1).verdicts(most: RESTARTS)
          .select { |one| one.reason == Logbook::Verdicts::UNKNOWN && one.service.nil? }
        unknown.map do |one|
          Trouble.new(kind: "restart", severity: Severity::WARNING, machine: one.machine, since_us: one.start.time_us,
                      says: "Restarted, and nothing says why", find: Find::Spelling.equal("host.name", one.machine))
        end
      end

      def volumes
        Happenings.of(kinds: ["volume"], from_us: @from_us, to_us: @to_us + 1)
          .select { |one| one.fields["to_us"].to_i > @to_us - VOLUME_US }
          .map { |one| of_entry("volume", one, one.severity) }
      end

      def of_entry(kind, one, severity)
        Trouble.new(kind: kind, severity: severity, machine: one.machine, since_us: one.time_us,
                    says: "#{one.says[0]&.upcase}#{one.says[1..]}",
                    find: Find::Spelling.equal("host.name", one.machine.to_s))
      end

      # Patterns of errors that were there for the first time in the last day.
      def patterns
        return [] if Span.all.first > @to_us - LEARN_US

        fresh.first(MOST_PATTERNS).filter_map { |id, hour| new_pattern("pattern = P#{id} severity >= error", hour) }
      end

      def new_pattern(find, hour)
        line = Question.new(find: find, from_us: hour * Rollup::HOUR, to_us: @to_us + 1).page(limit: 1).events.first
        return unless line

        Trouble.new(kind: "pattern", severity: line.severity, machine: line.machine, since_us: line.time_us,
                    says: "New: #{Text.line(line.message)}", find: find)
      end

      # @return [Array<Array(Integer, Integer)>] patterns of errors and the hours in which they began, the latest first
      def fresh
        rows = Database.rows(<<~SQL, [@from_us / Rollup::HOUR])
          SELECT templates.pattern_id,
            min((SELECT hour FROM template_counts WHERE template_id = templates.id ORDER BY hour LIMIT 1)) AS began,
            min((SELECT min(severity) FROM template_counts WHERE template_id = templates.id)) AS worst
          FROM templates GROUP BY 1 HAVING began >= ? AND worst <= #{Severity::ERROR} ORDER BY began DESC
        SQL
        patterns = KnownPatterns.current
        rows.map { |id, hour, _| [patterns.now(id), hour] }.uniq(&:first)
      end

      def counts(by)
        slots = STEP_US / Rollup::SLOT
        first = start_us / STEP_US
        rows = Database.rows(
          "SELECT kinds.#{by}, slot / #{slots}, severity, sum(n) FROM kind_counts JOIN kinds ON kinds.id = kind_id " \
          "WHERE slot >= ? AND slot < ? AND kinds.#{by} IS NOT NULL GROUP BY 1, 2, 3",
          [first * slots, (first + STEPS) * slots]
        )
        rows.each_with_object({}) do |(name, step, severity, n), all|
          (all[name] ||= Array.new(STEPS) { Array.new(9, 0) })[step - first][severity] += n
        end
      end

      # @return [Integer] the worst severity of a strip
      def worst(counts) = (0..8).find { |severity| counts.any? { |step| step[severity].positive? } } || 8

      def line(by, name, counts)
        find = "#{Find::Spelling.equal(FIELDS.fetch(by), name)} severity = #{Severity::NAMES[worst(counts)]}"
        Question.new(find: find, from_us: start_us, to_us: @to_us + 1).page(last: true, limit: 1).events.first
      end
    end
  end
end
