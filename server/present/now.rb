# frozen_string_literal: true

module Northdrift
  module Server
    module Present
      # What is wrong now.
      module Now
        module_function

        # @param alerts [Array<Store::Alert>]
        def alerts(alerts)
          Alerts.list(alerts).zip(alerts).map do |told, one|
            told.merge(
              "likely" => one.likely_cause, "last_remedy" => one.last_remedy, "times_before" => one.before.count
            )
          end
        end

        # @param one [Store::NowReport::Trouble]
        def trouble(one)
          {
            "kind" => one.kind, "severity" => one.severity, "machine" => one.machine && Text.display(one.machine),
            "says" => one.says, "since_us" => one.since_us, "find" => one.find
          }
        end

        # @param one [Store::NowReport::Strip]
        def strip(one)
          line = one.line
          {
            "name" => Text.display(one.name), "counts" => one.counts,
            "machines" => one.machines.map { |name| Text.display(name) },
            "line" => line && {
              "id" => line.id.to_s, "time_us" => line.time_us, "severity" => line.severity,
              "message" => Text.line(line.message)
            }
          }
        end
      end
    end
  end
end
