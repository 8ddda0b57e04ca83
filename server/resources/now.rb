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

        # Those that hold come first, then the worst, with what is folded under them, then the latest.
        def alerts
          Store::Alert.roots.where(state: %w[open taken], quiet_id: nil).includes(:folded)
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

        def quiet = Store::Alert.roots.where.not(quiet_id: nil).where.not(state: "closed")

        def closed = Store::Alert.roots.where(state: "closed")

        # @return [Integer, nil] when the last alert ended
        def calm_us = closed.maximum(:closed_us)
      end
    end
  end
end
