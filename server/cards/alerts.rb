# frozen_string_literal: true

module Northdrift
  module Server
    module Cards
      # Alerts that lasted in the time of the card, or go on since before; the worst first. Its find text is about the
      # alerts, see {Watch::AlertSubject}.
      class Alerts < Answer
        NAME = "alerts"
        ROUTE = "GET /api/alerts"
        OF_LINES = false
        MOST = 50

        def weight(_events) = 0

        private

        def further = [states]

        def states
          states = asked("state").to_s.split(",")
          stray = states - Store::Alert::STATES
          raise Northdrift::Boards::Mistake.new("query", "there is no state “#{stray.first}” of an alert") if stray.any?

          states.empty? ? %w[open taken] : states
        end

        def told
          found = lasting.matching(question.tree)
          { "alerts" => Present::Alerts.list(found.order(:severity, raised_us: :desc).limit(MOST)),
            "total" => found.count }
        end

        # A time without an end has those, too, that came after the last line.
        def lasting
          from_us, to_us = question.spec.values_at(:from_us, :to_us)
          alerts = Store::Alert.roots.where(state: states, quiet_id: nil)
          alerts = alerts.where(raised_us: ...to_us) if to_us
          from_us ? alerts.where.not(state: "closed").or(alerts.where(last_us: from_us..)) : alerts
        end
      end
    end
  end
end
