# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # One trouble for which a rule held, from when it was raised to when it was closed.
    class Alert < Record
      self.table_name = "alerts"

      STATES = %w[open taken closed].freeze
      # What people change, and what is had back when they take that back.
      CHANGED = %w[state reopened taken_by taken_us closed_us remedy].freeze

      # Who may not see everything sees those of machines of which nothing is hidden from them: what raised such an
      # alert are lines that they see. One that is attached to another field may be raised by lines of other machines.
      default_scope do
        Sight.current and
          where(<<~SQL)
            machine IN (SELECT name FROM temp.sight_machines WHERE whole)
            AND coalesce(json_extract(definition, '$.attach'), 'host.name') = 'host.name'
          SQL
      end
      # Those that stand by themselves, or are folded under one that is not seen.
      scope :roots, -> { Sight.current ? where(root_id: nil).or(where.not(root_id: select(:id))) : where(root_id: nil) }

      belongs_to :quiet, class_name: "Northdrift::Store::Quiet", optional: true
      has_many :folded, class_name: "Northdrift::Store::Alert", foreign_key: :root_id, inverse_of: :root
      belongs_to :root, class_name: "Northdrift::Store::Alert", optional: true, inverse_of: :folded
      has_many :steps, -> { order(:id) }, class_name: "Northdrift::Store::AlertStep", dependent: :delete_all

      class << self
        # Writes down that a rule held: of an alert that goes on, or a new one. Called within a transaction.
        # @param rule [Watch::Rule] of an {AlertRule}
        # @param key [Array<String>]
        # @param spans [Array<Watch::Span>]
        # @param now_us [Integer]
        # @return [Array<Alert>] those that are new, or open again
        def note(rule, key, spans, now_us)
          spans.filter_map do |span|
            known = near(rule, key, span)
            known.empty? ? begin_one(rule, key, span, now_us) : go_on(known, span, now_us)
          end
        end

        # @param tree [Object] a condition as a {Find::Tree}, on what alerts are about
        # @param folded [Boolean] whether one is found by those that are folded under it, too
        # @return [ActiveRecord::Relation]
        def matching(tree, folded: true)
          matcher = Find::Matcher.new(tree)
          among = folded ? all.includes(:folded) : all
          fitting = among.find_each.select do |alert|
            [alert, *(alert.folded if folded)].any? { |one| matcher.match?(one.about.subject) }
          end
          where(id: fitting.map(&:id))
        end

        # Those that have not held for as long as ends them: it is noted, once. Called within a transaction.
        # @return [Integer] how many there were
        def settle(now_us)
          # Who raised one from outside says when it is over.
          over = where(calm_us: nil).where.not(state: "closed").where.not(rule_id: OutsideAlert::RULE_ID)
            .where("last_us < ?", now_us)
            .select { |alert| alert.last_us + alert.rule.quiet_us < now_us }
          over.each do |alert|
            alert.update!(calm_us: alert.last_us + alert.rule.quiet_us, changed_us: now_us)
            alert.steps.create!(at_us: now_us, what: "calm")
          end
          over.size
        end

        # @return [ActiveRecord::Relation] that the span is a part of, since no pause lies between
        def near(rule, key, span)
          where(rule_id: rule.id, key: Oj.dump(key, mode: :strict))
            .where("last_us > ? AND raised_us < ?", span.raised_us - rule.quiet_us, span.last_us + rule.quiet_us)
            .order(:raised_us, :id).to_a
        end

        # What is done with one that is new. Called within a transaction.
        # @param alert [Alert]
        # @return [Alert]
        def begun(alert, now_us)
          alert.steps.create!(at_us: now_us, what: "raised")
          alert.update!(quiet_id: Quiet.of(alert, alert.raised_us)&.id)
          AlertFolds.fold(alert) if alert.rule.fold?
          alert
        end

        private

        def begin_one(rule, key, span, now_us)
          alert = create!(
            rule_id: rule.id, definition: Oj.dump(rule.definition, mode: :strict), name: rule.name,
            severity: severity(rule, span), key: Oj.dump(key, mode: :strict), machine: rule.machine(key),
            from_us: span.from_us, raised_us: span.raised_us, last_us: span.last_us, created_us: now_us,
            changed_us: now_us
          )
          begun(alert, now_us)
        end

        # What is beyond a critical level is critical, or worse.
        def severity(rule, span) = span.critical ? [rule.severity, Severity::CRITICAL].min : rule.severity

        def worsen(alert, span, now_us)
          worst = severity(alert.rule, span)
          return unless worst < alert.severity

          alert.severity = worst
          alert.steps.create!(at_us: now_us, what: "worse")
        end

        # It goes on when the time is over in which nobody is told.
        def heard_again(alert, now_us)
          alert.quiet_id = Quiet.of(alert, alert.last_us)&.id
          alert.steps.create!(at_us: now_us, what: "came again") if alert.quiet_id.nil? && alert.state != "closed"
        end

        # Two that a late line joins are one: the earlier.
        def go_on(known, span, now_us)
          first, *others = known
          last_us = [*known.map(&:last_us), span.last_us].max
          first.calm_us = nil if last_us > first.last_us
          came = last_us > known.map(&:last_us).max
          others.each { |other| AlertFolds.let_go(other) }.each(&:destroy!)
          first.assign_attributes(
            from_us: [*known.map(&:from_us), span.from_us].min,
            raised_us: [first.raised_us, span.raised_us].min, last_us: last_us
          )
          worsen(first, span, now_us)
          heard_again(first, now_us) if came && first.quiet_id
          return first.save! && nil unless came && first.state == "closed"

          first.open_again("came again", now_us)
        end
      end

      # @return [Watch::AlertSubject] what conditions on alerts look at
      def about
        as_stood = rule
        Northdrift::Watch::AlertSubject.new(
          name: name, severity: severity, tags: as_stood.tags, owner: as_stood.owner, machine: machine,
          fields: Fleet.current.fields(machine).merge(as_stood.told_by(keys).to_h)
        )
      end

      # @return [Array<Alert>] those that are one trouble with it, itself among them
      def group = root ? [root, *root.folded] : [self, *folded]

      # @return [Array<String>] machines from its own to that of the one it is folded under: each needs the next
      def path_to_root
        path = root && fold_path ? Oj.load(fold_path, mode: :strict) : []
        Sight.current.nil? || (path - Sight.current.machines).empty? ? path : []
      end

      # @return [Array<String>]
      def keys = Oj.load(key, mode: :strict)

      # @param most [Integer]
      # @return [Array(Integer, Array<StoredEvent>)] how many lines it has, and the latest of them
      def lines(most)
        return told_lines(most) if rule.kinds
        return [0, []] if rule.outside? && machine.nil?

        asked = Question.new(find: find, from_us: from_us, to_us: last_us + 1, checked: false)
        [asked.total, asked.page(last: true, limit: most).events]
      end

      # @return [String] find text of its lines
      def find
        held = rule
        found = held.discovery ? told.map(&:find).uniq : []
        found.size > 1 ? found.map { |one| "(#{one})" }.join(" or ") : found.first || held.find_of(keys)
      end

      # What was most likely the reason is kept with it: lines go in time, and are thinned out.
      def keep_cause
        changes = ChangesBefore.new(at_us: raised_us, machine: machine)
        told = machine ? changes.candidates.select { |one| cause?(one) }.first(CAUSES) : []
        kept = told.map do |one|
          happening = one.happening
          { "id" => happening.id.to_s, "time_us" => happening.time_us, "machine" => happening.machine,
            "says" => happening.says.to_s, "score" => one.score.round(4) }
        end
        update_columns(cause: Oj.dump(kept, mode: :strict))
      end
      CAUSES = 3
      # What weighs less is as good as chance, see {Cause::Ranking}.
      LEAST_SCORE = 0.1

      # What it was raised by is not its own cause.
      def cause?(one) = one.score >= LEAST_SCORE && one.happening.time_us < from_us
      private :cause?

      # @return [Array<Hash>] "id" of the entry, "time_us", "machine", "says" and "score", the likeliest first
      def causes
        kept = cause ? Oj.load(cause, mode: :strict) : []
        return kept unless Sight.current

        seen = Happenings.of_lines(kept.map { |one| one["id"].to_i }).map { |one| one.id.to_s }
        kept.select { |one| seen.include?(one["id"]) }
      end

      # @return [String, nil] what was most likely the reason, where something stands out
      def likely_cause
        one = causes.first or return
        "#{one['says']}#{" on #{one['machine']}" if one['machine'] != machine}"
      end

      # @return [ActiveRecord::Relation] those before it of the same rule and the same key, the latest first
      def before = Alert.where(rule_id: rule_id, key: key).where("raised_us < ?", raised_us).order(raised_us: :desc)

      # @return [String, nil] what helped last time: its own, where it came again
      def last_remedy = remedy.presence || before.where.not(remedy: "").pick(:remedy)

      # @return [Watch::Rule] as it stood
      def rule = Northdrift::Watch::Rule.new(Oj.load(definition, mode: :strict).merge("id" => rule_id.to_s))

      # @return [Array<Happenings::Kept, Discoveries::One>] the logbook's entries that it is about, or what was found
      #   out; their times are to the millisecond
      def told
        held = rule
        return discovered(held) if held.discovery
        return said_outside(held) if held.outside?
        return [] unless held.kinds

        Happenings.of(kinds: held.kinds, from_us: from_us, to_us: last_us + EventId::MILLISECOND)
          .select { |one| held.key(one.all_fields) == keys }
      end

      def discovered(held)
        Discoveries.new(held).within(from_us, last_us + 1).select { |one| held.key(one.fields) == keys }
      end
      private :discovered

      def said_outside(held)
        held.why.empty? ? [] : [Discoveries::One.new(raised_us, last_us, {}, held.why, find)]
      end
      private :said_outside

      def told_lines(most)
        lines = told.select(&:of_line?)
        [lines.size, StoredEvent.all(lines.last(most).map(&:id))]
      end
      private :told_lines

      # @return [self]
      def open_again(what, now_us)
        assign_attributes(
          state: "open", reopened: true, closed_us: nil, taken_by: nil, taken_us: nil, changed_us: now_us, root_id: nil,
          fold_path: nil, quiet_id: Quiet.of(self, last_us)&.id
        )
        save!
        steps.create!(at_us: now_us, what: what)
        self
      end

      # What a person does with it.
      # @param what [String] as it is told
      # @param who [String, nil]
      # @param changes [Hash{Symbol=>Object}] of {CHANGED}
      # @return [AlertStep]
      def act(what, who:, now_us:, text: "", **changes)
        transaction do
          before = attributes.slice(*CHANGED)
          update!(**changes, changed_us: now_us)
          steps.create!(at_us: now_us, who: who, what: what, text: text, before: Oj.dump(before, mode: :strict))
        end
      end

      # Takes back the last that a person did, if nothing has happened since; with those that are folded under it, what
      # was done with all of them.
      # @return [Boolean]
      def undo(now_us)
        step = last_deed
        return false unless step&.who

        transaction do
          together = folded.select { |one| one.last_deed&.at_us == step.at_us }
          [self, *together].each { |one| one.take_back(now_us) }
        end
        true
      end

      # @return [AlertStep, nil] what became of it last, beside that it calmed down
      def last_deed = steps.where(undone_us: nil).where.not(what: "calm").last

      # @param now_us [Integer]
      def take_back(now_us)
        step = last_deed
        update!(**Oj.load(step.before, mode: :strict).symbolize_keys, changed_us: now_us)
        step.update!(undone_us: now_us)
      end
    end
  end
end
