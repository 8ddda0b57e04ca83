# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Alerts that no rule of ours raised, but another system did: they stand with the others, are told, taken, closed
    # and folded as these are.
    module OutsideAlert
      # There is no rule of this number.
      RULE_ID = 0
      # What comes again within so long after it was closed is the same trouble.
      AGAIN_US = Northdrift::Watch::Rule::QUIET_US

      module_function

      # @param wanted [Hash] "name", "severity", "says", "steps" and "tags"
      # @return [Northdrift::Watch::Rule] what stands for one
      # @raise [Rules::Mistake]
      def rule(wanted)
        definition = wanted.slice("name", "severity", "steps", "tags")
        definition["why"] = wanted["says"].to_s
        Northdrift::Watch::Rule.new(
          definition.merge("id" => RULE_ID.to_s,
                           "when" => { Northdrift::Watch::Rule::OUTSIDE => { "by" => %w[key
                                                                                        host.name] } })
        )
      end

      # @param key [String] what the other system calls the trouble
      # @return [Alert, nil]
      def latest(key)
        # The machine may have become known since.
        Alert.where(rule_id: RULE_ID).where("json_extract(key, '$[0]') = ?", key).order(:id).last
      end

      # Called within a transaction.
      # @param machine [String, nil]
      # @return [Alert] one that stands already, or a new one
      def raise_one(rule, key, machine, now_us)
        known = latest(key)
        return go_on(known, rule, now_us) if known && (known.state != "closed" || now_us < known.closed_us + AGAIN_US)

        alert = Alert.create!(
          rule_id: RULE_ID, definition: Oj.dump(rule.definition, mode: :strict), name: rule.name,
          severity: rule.severity, key: Oj.dump([key, machine], mode: :strict), machine: machine, from_us: now_us,
          raised_us: now_us, last_us: now_us, created_us: now_us, changed_us: now_us
        )
        Alert.begun(alert, now_us)
      end

      def go_on(alert, rule, now_us)
        worse = rule.severity < alert.severity
        alert.update!(
          definition: Oj.dump(rule.definition, mode: :strict), name: rule.name, severity: rule.severity,
          last_us: now_us, changed_us: now_us
        )
        alert.steps.create!(at_us: now_us, what: "worse") if worse
        alert.open_again("came again", now_us) if alert.state == "closed"
        alert
      end
      private_class_method :go_on
    end
  end
end
