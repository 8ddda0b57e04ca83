# frozen_string_literal: true

module Northdrift
  module Store
    # What the next shift must know of a window.
    class ShiftSummary
      # Of each section so many are told.
      MOST = 50
      CHANGES = %w[change package platform account].freeze
      ENDING = %w[certificate disk].freeze
      # What is about to end was told so long ago at most.
      ENDING_US = 7 * Question::DAY_US
      # Planned work that begins or ends so soon is to be watched.
      SOON_US = Question::DAY_US
      AROUND_US = 120_000_000
      NOTICE = Severity::NAMES.index("notice")

      # @!attribute at_us [Integer]
      # @!attribute severity [Integer, nil]
      # @!attribute machine [String, nil]
      # @!attribute says [String]
      # @!attribute more [String, nil] who has it, how it ended, how sure it is
      # @!attribute look [Hash{Symbol=>Object}] `alert:` an id; or `find:`, `from_us:`, `to_us:` and `line:` of lines
      Item = Struct.new(:at_us, :severity, :machine, :says, :more, :look, keyword_init: true)

      # @!attribute total [Integer] of which the first {MOST} are told
      # @!attribute items [Array<Item>]
      Section = Struct.new(:total, :items)

      # By key: what stands above a section, in order.
      TITLES = {
        standing: "Still open", opened: "Opened", closed: "Closed", changes: "Changes", restarts: "Restarts",
        silences: "Went silent", fresh: "New", volumes: "Unusual volume", watch: "To watch", ending: "Ending soon"
      }.freeze

      # @param from_us [Integer]
      # @param to_us [Integer] not included
      def initialize(from_us, to_us)
        @from_us = from_us
        @to_us = to_us
      end

      # @return [Hash{Symbol=>Section}] by key of {TITLES}
      def sections = TITLES.keys.to_h { |key| [key, send(key).then { |all| Section.new(all.size, all.first(MOST)) }] }

      private

      def alerts = Alert.roots.where(quiet_id: nil)

      def opened
        alerts.where(raised_us: @from_us...@to_us).order(:severity, :raised_us).map { |one| of_alert(one, nil) }
      end

      def closed
        alerts.where(closed_us: @from_us...@to_us).includes(:steps).order(:closed_us).map do |one|
          by = one.steps.to_a.reverse.find { |step| step.what == "close" && step.undone_us.nil? }&.who
          of_alert(one, [by && "by #{by}", one.remedy.presence].compact.join(": ").presence, at_us: one.closed_us)
        end
      end

      # As it was at the end of the window.
      def standing
        all = alerts.where(raised_us: ...@to_us)
        all = all.where.not(state: "closed").or(all.where(closed_us: @to_us..))
        all.order(:severity, :raised_us).map do |one|
          of_alert(one, one.taken_by ? "taken by #{one.taken_by}" : "nobody has taken it")
        end
      end

      def of_alert(alert, more, at_us: alert.raised_us)
        Item.new(at_us: at_us, severity: alert.severity, machine: alert.machine, more: more, look: { alert: alert.id },
                 says: [alert.name, *(alert.keys - [alert.machine])].join(", "))
      end

      def changes = told(kinds: CHANGES, least: NOTICE)
      def volumes = told(kinds: ["volume"])
      def silences = told(kinds: ["silence"])

      # @return [Array<Item>] what the logbook tells, in order of time
      def told(from_us: @from_us, **asked)
        Story.new(from_us: from_us, to_us: @to_us, **asked).entries(most: 10 * MOST).map do |entry|
          outcome = entry.outcome && (entry.outcome.severity <= Severity::ERROR ? "failed" : "done")
          of_entry(entry.happening, outcome)
        end
      end

      def of_entry(one, more = nil)
        ends_us = one.fields["to_us"]&.to_i || one.time_us
        Item.new(
          at_us: one.time_us, severity: one.severity, machine: one.machine, says: one.says, more: more,
          look: lines(one.machine, one.time_us, ends_us, line: (one.id if one.of_line?))
        )
      end

      def lines(machine, from_us, to_us, line: nil)
        { find: machine ? Find::Spelling.equal("host.name", machine) : "", from_us: from_us - AROUND_US,
          to_us: to_us + AROUND_US, line: line }
      end

      def restarts
        Restarts.new(from_us: @from_us, to_us: @to_us).verdicts(most: 4 * MOST).map do |one|
          Item.new(
            at_us: one.start.time_us, severity: one.start.severity, machine: one.machine,
            says: [one.service, one.says].compact.join(": "), more: one.confidence.to_s,
            look: lines(one.machine, one.start.time_us, one.start.time_us, line: one.start.id)
          )
        end
      end

      # Where all lines are of this window, everything is new.
      def fresh
        return [] if Span.all.first >= @from_us

        [*fresh_machines, *fresh_people, *fresh_patterns].sort_by(&:at_us)
      end

      def fresh_machines
        rows = Database.rows(<<~SQL, [@from_us / Rollup::SLOT, @to_us / Rollup::SLOT])
          SELECT kinds.machine, min(slot) AS first FROM kind_counts JOIN kinds ON kinds.id = kind_id
          WHERE kinds.machine IS NOT NULL GROUP BY 1 HAVING first >= ? AND first < ?
        SQL
        rows.map do |machine, slot|
          at_us = slot * Rollup::SLOT
          Item.new(at_us: at_us, machine: machine, says: "a machine that was never heard of before",
                   look: lines(machine, at_us, at_us + Rollup::SLOT))
        end
      end

      def fresh_people
        bounds = [EventId.first(@from_us), EventId.first(@to_us)]
        rows = Database.rows(<<~SQL, bounds)
          SELECT person, min(event_id) AS first FROM happenings WHERE person IS NOT NULL
          GROUP BY 1 HAVING first >= ? AND first < ?
        SQL
        rows.filter_map do |person, id|
          one = Happenings.rows("event_id = ?", [id], limit: 1).first or next
          of_entry(one).tap { |item| item.says = "#{person}, never named before: #{one.says}" }
        end
      end

      # Those of what is bad.
      def fresh_patterns
        rows = Database.rows(<<~SQL, [@from_us / Rollup::HOUR, @to_us / Rollup::HOUR])
          SELECT templates.pattern_id,
            min((SELECT hour FROM template_counts WHERE template_id = templates.id ORDER BY hour LIMIT 1)) AS began,
            min((SELECT min(severity) FROM template_counts WHERE template_id = templates.id)) AS worst
          FROM templates GROUP BY 1 HAVING began >= ? AND began <= ? AND worst <= #{Severity::WARNING} ORDER BY began
        SQL
        known = KnownPatterns.current
        rows.map(&:first).map { |id| known.now(id) }.uniq.first(MOST).filter_map { |id| fresh_pattern(id) }
      end

      def fresh_pattern(id)
        find = "pattern = P#{id}"
        question = Question.new(find: find, from_us: @from_us, to_us: @to_us)
        line = question.page(limit: 1).events.first or return
        return if Question.new(find: find, to_us: @from_us).page(limit: 1).events.any?

        Item.new(at_us: line.time_us, severity: line.severity, machine: line.machine,
                 says: "never before: #{Text.line(line.message)}", more: "P#{id}",
                 look: { find: find, from_us: @from_us, to_us: @to_us })
      end

      # What nobody is told of, and what stands out without a rule; these are for who sees everything.
      def watch
        return [] if Sight.current

        [*quiet, *unusual]
      end

      def quiet
        Quiet.present.where("from_us < ? AND (until_us IS NULL OR until_us > ?)", @to_us + SOON_US, @to_us).map do |one|
          ends = one.until_us && Time.at(0, one.until_us, :microsecond, in: "UTC").strftime("until %-d %b %H:%M UTC")
          Item.new(
            at_us: one.from_us, says: "#{one.kind == 'mute' ? 'Muted' : 'Planned work'}: #{one.find.presence || 'all'}",
            more: [one.why.presence, ends].compact.join(", "), look: { path: "/alerts/quiet" }
          )
        end
      end

      def unusual
        listed = Northdrift::Unusual::Priority::LISTED
        Oddity.where(state: "open", priority: listed.., last_us: @from_us.., from_us: ...@to_us)
          .order(priority: :desc).limit(MOST).map do |one|
            Item.new(at_us: one.from_us, severity: one.severity, machine: one.machine, says: one.says,
                     look: { path: "/alerts/unusual?one=#{one.id}" })
          end
      end

      # The latest of what a machine says of the same.
      def ending
        told(from_us: @to_us - ENDING_US, kinds: ENDING, least: NOTICE)
          .group_by { |item| [item.machine, item.says.gsub(/\d+/, "#")] }.map { |_, all| all.last }.sort_by(&:at_us)
      end
    end
  end
end
