# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What is wrong now, and how services and machines have been over the last day.
      class Now < Resource
        MOST_ALERTS = 50
        MOST_CHANGES = 6
        # What stands in an alert that is open is not told again beside it.
        SAME = %w[silence trouble restart].freeze

        get "/" do
          report = Store::NowReport.new(now_us)
          alerts = alerts()
          json(
            "at_us" => report.to_us, "alerts" => Present::Now.alerts(alerts),
            "troubles" => report.troubles.reject { |one| told?(one, alerts) }.map { |one| Present::Now.trouble(one) },
            "changes" => report.changes(MOST_CHANGES).map { |one| Present::Logbook.happening(one) },
            "calm_us" => calm_us, "closed" => closed.where("closed_us > ?", now_us - Store::NowReport::DAY_US).count,
            "quiet" => quiet.count
          )
        end

        # By service or machine: volume by severity, and the latest of the worst lines.
        get "/strips" do
          by = choice("by", %w[service machine], "service")
          report = Store::NowReport.new(now_us)
          json(
            "start_us" => report.start_us, "step_us" => Store::NowReport::STEP_US,
            "strips" => report.strips(by.to_sym).map { |one| Present::Now.strip(one) }
          )
        end

        private

        # Alerts are of all lines: who may see a part of them sees none.
        def whole? = Store::Sight.current.nil?

        # Those that hold come first, then the worst, with what is folded under them, then the latest.
        def alerts
          return [] unless whole?

          Store::Alert.where(state: %w[open taken], root_id: nil, quiet_id: nil).includes(:folded)
            .sort_by { |one| [one.group.all?(&:calm_us) ? 1 : 0, one.group.map(&:severity).min, -one.raised_us] }
            .first(MOST_ALERTS)
        end

        def told?(trouble, alerts)
          SAME.include?(trouble.kind) && alerts.any? do |alert|
            [alert, *alert.folded].any? do |one|
              one.machine == trouble.machine && trouble.since_us >= one.from_us - Store::AlertFolds::WITHIN_US
            end
          end
        end

        def quiet
          return Store::Alert.none unless whole?

          Store::Alert.where(root_id: nil).where.not(quiet_id: nil).where.not(state: "closed")
        end

        def closed = whole? ? Store::Alert.where(state: "closed", root_id: nil) : Store::Alert.none

        # @return [Integer, nil] when the last alert ended
        def calm_us = closed.maximum(:closed_us)
      end
    end
  end
end
