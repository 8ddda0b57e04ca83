# frozen_string_literal: true

module Northdrift
  module Store
    # What changed before something broke: when it began, what happened before that on the machine, on those that it
    # cannot do without and beside them, what is new, and what cannot be known.
    class ChangesBefore
      # How far back the onset is looked for, and how far behind the moment that was asked about.
      BACK_US = 6 * 3_600_000_000
      AHEAD_US = 10 * 60_000_000
      STEPS = 370
      # Trouble of a machine that began so long before a line of it belongs to it.
      SAME_TROUBLE_US = 3_600_000_000
      # How far before the onset a cause is looked for.
      CAUSE_US = 24 * 3_600_000_000
      # Clocks may be so far apart that a cause seems to come behind its effect.
      CLOCKS_US = 2_000_000
      PAST_US = 30 * Question::DAY_US
      MOST = 40
      # Lines of the machine in trouble that are looked through for names of others, and for how long.
      NAMED = 200
      NAMED_US = 300_000_000
      NAME = /[A-Za-z][\w.-]*\w/
      BAD = "severity >= error"

      # @!attribute of [String] pattern, machine or line: whose rate rose; or the moment itself
      # @!attribute find [String, nil] the lines whose rate it is
      # @!attribute change [Cause::ChangePoint::Found, nil]
      Onset = Struct.new(:at_us, :of, :find, :change)

      # @return [String, nil]
      attr_reader :machine
      # @return [Onset]
      attr_reader :onset

      # @param at_us [Integer] the moment that is asked about
      # @param machine [String, nil] in trouble
      # @param pattern [String, nil] name of the pattern of the line that is asked about
      # @param besides [Integer, nil] the line that is asked about, which is not its own cause
      def initialize(at_us:, machine: nil, pattern: nil, besides: nil)
        @at_us = at_us
        @machine = machine
        @pattern = pattern
        @besides = besides
        @fleet = Fleet.current
        @onset = find_onset
      end

      # @return [Array<Cause::Ranking::Candidate>] the likeliest first
      def candidates
        @candidates ||= begin
          ranking =
            Cause::Ranking.new(
              machine: @machine, onset_us: @onset.at_us, dependencies: @fleet.dependencies, named: named,
              slack_us: CLOCKS_US
            )
          before =
            Happenings.of(
              kinds: Cause::Ranking::KINDS.keys, from_us: @onset.at_us - CAUSE_US, to_us: @onset.at_us + CLOCKS_US
            )
          before.reject! { |one| one.id == @besides }
          # The past is looked up for those alone that stand in front.
          likely = ranking.order(first_of_each(before)).first(MOST * 2).map(&:happening)
          ranking.order(likely) { |one| past(one) }.first(MOST)
        end
      end

      # What was there for the first time around the onset.
      # @return [Hash{Symbol=>Array<String>}] machines and persons
      def fresh
        from_us = @onset.at_us - SAME_TROUBLE_US
        to_us = @onset.at_us + AHEAD_US
        { machines: fresh_machines(from_us, to_us), persons: fresh_persons(from_us, to_us) }
      end

      # @return [Array<String>] machines that the one in trouble names in what it complains of, from the onset on
      def named
        @named ||= begin
          others = Kinds.current.filter_map(&:machine).to_set - [@machine]
          bad =
            if @machine
              Question
                .new(
                  find: "#{Find::Spelling.equal('host.name', @machine)} severity >= warning", from_us: @onset.at_us,
                  to_us: [@at_us + 1, @onset.at_us + NAMED_US].max
                )
                .page(limit: NAMED)
                .events
            else
              []
            end
          counts = bad.flat_map { |event| event.message.scan(NAME).uniq & others.to_a }.tally
          counts.select { |_, n| n * 4 >= bad.size }.keys
        end
      end

      # @return [Question] the stretch in which patterns may be new
      def around = Question.new(from_us: @onset.at_us - (SAME_TROUBLE_US / 2), to_us: @onset.at_us + AHEAD_US)

      # @return [Array<String>] what cannot be known, in words
      def unknown
        return ["no machine is named: everything that happened before is ranked by kind and time alone"] unless @machine

        reach = @fleet.dependencies.reach(@machine).keys - [@machine]
        said = []
        if reach.empty?
          said << "what #{@machine} needs, and where it runs, is not entered in the fleet's map: causes elsewhere " \
                  "cannot be told from chance"
        end
        said.concat(
          unheard([@machine, *reach]).map do |name|
            "nothing was heard of #{name} in the hour before: what happened there is not known"
          end
        )
        untold =
          reach -
          Database.rows(
            "SELECT DISTINCT machine FROM happenings WHERE kind IN (#{Happenings.marks(Cause::Ranking::KINDS.keys)})",
            Cause::Ranking::KINDS.keys
          ).flatten
        if untold.any?
          said << "no line ever told of a change on #{untold.sort.join(', ')}: either there was none, or its changes " \
                  "are not in what is gathered"
        end
        if @onset.at_us - Span.all.first < SAME_TROUBLE_US
          said << "lines start #{(@onset.at_us - Span.all.first) / 60_000_000} min before: what was changed earlier " \
                  "is not known"
        end
        said
      end

      private

      def find_onset
        clear(of_pattern, BACK_US) || clear(of_machine, SAME_TROUBLE_US) || Onset.new(@at_us, "line", nil, nil)
      end

      # The rise of what is asked about tells more than that of all trouble of its machine.
      # @return [Onset, nil] what it was given, where chance does not explain it and it began within that time
      def clear(onset, back_us)
        onset if onset&.change&.clear && onset.at_us.between?(@at_us - back_us, @at_us)
      end

      def of_pattern
        return unless @pattern

        machine = @machine && Find::Spelling.equal("host.name", @machine)
        rise("pattern", [machine, "pattern = #{@pattern}"].compact.join(" "))
      end

      def of_machine = @machine && rise("machine", "#{Find::Spelling.equal('host.name', @machine)} #{BAD}")

      def rise(of, find)
        question = Question.new(find: find, from_us: known_us, to_us: @at_us + AHEAD_US)
        counts = question.histogram(bins: STEPS).then { |histogram| steps(histogram) }
        change = Cause::ChangePoint.rise(counts[:counts]) or return
        at_us =
          Question
            .new(find: find, from_us: counts[:start_us] + (change.step * counts[:step_us]), to_us: question.to_us)
            .page(limit: 1)
            .events
            .first
            &.time_us
        at_us && Onset.new(at_us, of, find, change)
      end

      # Before the first line of the machine it is not known whether there was trouble: that was no quiet time.
      # @return [Integer] from when on it is known
      def known_us
        from_us = @at_us - BACK_US
        @known_us ||= begin
          find = @machine ? Find::Spelling.equal("host.name", @machine) : ""
          before = Question.new(find: find, to_us: from_us).page(limit: 1).events.any?
          since = Question.new(find: find, from_us: from_us, to_us: @at_us + 1)
          (!before && since.page(limit: 1).events.first&.time_us) || from_us
        end
      end

      def steps(histogram)
        counts = Array.new(histogram.steps, 0)
        histogram.series.each { |series| series.counts.each { |step, by| counts[step] += by.sum } }
        { counts: counts, start_us: histogram.start_us, step_us: histogram.step_us }
      end

      # Of what came again and again, the first; what differs in its words is another thing.
      def first_of_each(happenings)
        happenings.group_by { |one| [one.rule, one.machine, one.says] }.map { |_, all| all.max_by(&:time_us) }
      end

      # @return [Cause::Ranking::Past]
      def past(happening)
        earlier =
          Happenings.rows(
            "rule = ? AND machine IS ? AND event_id >= ? AND event_id < ?",
            [
              happening.rule, happening.machine, EventId.first(happening.time_us - PAST_US),
              EventId.first(happening.time_us - CLOCKS_US)
            ], order: "DESC", limit: 20
          )
        Cause::Ranking::Past.new(earlier.size, earlier.count { |one| harm?(one.time_us) })
      end

      # Whether the machine in trouble complained clearly more behind a moment than before it: in the ten minutes of it
      # and the two behind.
      def harm?(time_us)
        return false unless @machine

        slot = time_us / Rollup::SLOT
        bad = bad_slots
        after = (slot..(slot + 2)).sum { |one| bad[one] }
        after > (2 * ((slot - 3)...slot).sum { |one| bad[one] }) + 3
      end

      def bad_slots
        @bad_slots ||= begin
          kinds = Kinds.current.select { |kind| kind.machine == @machine }.map(&:id)
          rows =
            if kinds.empty?
              []
            else
              Database.rows(
                "SELECT slot, sum(n) FROM kind_counts WHERE kind_id IN (#{kinds.join(',')}) AND severity <= " \
                "#{Severity::ERROR} GROUP BY slot"
              )
            end
          Hash.new(0).merge(rows.to_h)
        end
      end

      def unheard(machines)
        slots = ((@onset.at_us - SAME_TROUBLE_US) / Rollup::SLOT)..(@onset.at_us / Rollup::SLOT)
        heard =
          Database.rows(
            "SELECT DISTINCT kinds.machine FROM kind_counts JOIN kinds ON kinds.id = kind_id WHERE slot BETWEEN ? " \
            "AND ?",
            [slots.begin, slots.end]
          ).flatten
        machines - heard
      end

      def fresh_machines(from_us, to_us)
        first =
          Database.rows("SELECT kinds.machine, min(slot) FROM kind_counts JOIN kinds ON kinds.id = kind_id GROUP BY 1")
        first.filter_map { |name, slot| name if name && (slot * Rollup::SLOT).between?(from_us, to_us) }
      end

      def fresh_persons(from_us, to_us)
        Database.rows(
          "SELECT person FROM happenings WHERE person IS NOT NULL GROUP BY person HAVING min(event_id) BETWEEN ? AND ?",
          [EventId.first(from_us), EventId.first(to_us)]
        ).flatten
      end
    end
  end
end
