# frozen_string_literal: true

module Northdrift
  module Server
    module Present
      # Alerts, and what a rule would have raised.
      module Alerts
        MOST_FOUND = 500
        SEEN = 5

        module_function

        # @param alerts [Enumerable<Store::Alert>]
        # @return [Array<Hash>]
        def list(alerts)
          alerts = alerts.to_a
          folded = Store::Alert.where(root_id: alerts.map(&:id)).group(:root_id)
          counts = folded.count
          worst = folded.minimum(:severity)
          quiets = Store::Quiet.where(id: alerts.filter_map(&:quiet_id)).index_by(&:id)
          roots = Store::Alert.where(id: alerts.filter_map(&:root_id)).ids
          alerts.map do |one|
            alert(one, quiets[one.quiet_id]).merge(
              "folded" => counts.fetch(one.id, 0), "worst" => [one.severity, worst[one.id]].compact.min,
              "root_id" => (one.root_id if roots.include?(one.root_id))
            )
          end
        end

        # @param one [Store::Alert]
        # @param quiet [Store::Quiet, nil] that it is in
        def alert(one, quiet)
          rule = one.rule
          {
            "id" => one.id, "rule_id" => one.rule_id, "name" => Text.display(one.name), "severity" => one.severity,
            "machine" => one.machine && Text.display(one.machine),
            "key" => rule.told_by(one.keys).map { |field, value| { "field" => field, "value" => Text.display(value) } },
            "state" => one.state, "reopened" => one.reopened, "from_us" => one.from_us, "raised_us" => one.raised_us,
            "last_us" => one.last_us, "taken_by" => one.taken_by, "taken_us" => one.taken_us,
            "closed_us" => one.closed_us,
            "calm_us" => one.calm_us, "remedy" => one.remedy, "find" => one.find,
            "quiet" => quiet && Quiets.quiet(quiet)
          }
        end

        # @param one [Store::Alert]
        def detail(one)
          rule = one.rule
          fields = one.about.all_fields
          total, latest = one.lines(SEEN)
          list([one]).first.merge(
            "root" => one.root && { "id" => one.root_id, "name" => Text.display(one.root.name) },
            "fold_path" => one.path_to_root,
            "why" => Watch::FirstSteps.fill(rule.why, fields), "owner" => rule.owner,
            "first_steps" => Watch::FirstSteps.fill(rule.steps, fields), "condition" => rule.in_words, "lines" => total,
            "told" => one.told.last(SEEN).map { |entry| Text.display(entry.says) },
            "samples" => latest.map { |event| Present.line(event) },
            "seen_before" => seen_before(one), "remedies" => remedies(latest), "causes" => one.causes,
            "steps" => one.steps.map do |step|
              step.attributes.slice("at_us", "who", "what", "text").merge("undone" => !step.undone_us.nil?)
            end
          )
        end

        # @param course [Store::AlertCourse]
        def course(course)
          {
            "says" => course.says, "unit" => course.unit, "level" => course.level, "critical" => course.critical,
            "from_us" => course.from_us, "step_us" => course.step_us, "values" => course.values
          }
        end

        # What helped in cases that lines of the same patterns are pinned to.
        def remedies(lines)
          known = lines.empty? ? {} : Store::Case.remedies
          lines.map { |line| Store::KnownPatterns.current.of(line.template_id) }.uniq
            .flat_map { |pattern| Cases.remedies(pattern, known) }.uniq { |remedy| remedy["id"] }
        end

        # Alike: of the same rule and the same key.
        def seen_before(one)
          one.before.limit(SEEN).map do |other|
            other.attributes.slice("id", "raised_us", "last_us", "state", "remedy")
          end
        end

        # @param trial [Store::AlertTrial]
        # @param zone [ActiveSupport::TimeZone] of its days
        def trial(trial, zone)
          found = trial.found
          rail = trial.rail(zone)
          {
            "rail" => rail.map { |from_us, lines| { "from_us" => from_us, "lines" => lines } },
            "from_us" => trial.from_us, "to_us" => trial.to_us, "lines" => trial.lines.size, "cut" => trial.cut?,
            "alerts" => found.size,
            "found" => found.last(MOST_FOUND).map do |one|
              span = one.span
              {
                "key" => one.key.map { |value| Text.display(value) }, "from_us" => span.from_us,
                "raised_us" => span.raised_us, "last_us" => span.last_us, "find" => trial.rule.find_of(one.key)
              }
            end,
            "caught" => Store::AlertCatches.new(trial).all.last(MOST_FOUND).map { |one| caught(one) },
            "all_lines" => rail.sum(&:last),
            "level" => trial.level, "unit" => trial.rule.level&.unit.to_s,
            "curve" => trial.curve.map { |level, alerts| { "level" => level, "alerts" => alerts } }
          }
        end

        # @param one [Store::AlertCatches::Catch]
        def caught(one) = one.to_h.transform_keys(&:to_s).merge("says" => Text.display(one.says))
      end
    end
  end
end
