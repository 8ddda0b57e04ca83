# frozen_string_literal: true

require "oj"

module Northdrift
  module Server
    module Sending
      # What a message tells of alerts, as they are now.
      module Contents
        # Alerts in one message; of more it says that there are more.
        MOST = 10
        LINES = 5
        MOST_LINE = 500
        # Setting of the data folder: where the pages are, as the process that serves them found out.
        ADDRESS = "address"

        module_function

        # @param id [String]
        # @param occasion [String]
        # @param alerts [Array<Store::Alert>] the worst come first
        # @return [Sending::Message]
        def message(id, occasion, alerts)
          shown = alerts.sort_by { |alert| [alert.severity, alert.raised_us] }.first(MOST)
          Northdrift::Sending::Message.new(
            id: id, occasion: occasion, alerts: shown.map { |alert| of(alert) }, more: alerts.size - shown.size,
            link: "#{address}/alerts"
          )
        end

        # @return [String] of the pages
        def address
          set = Store::MachineSettings.current.address
          set.empty? ? Store::Setting.get(ADDRESS).to_s : set.chomp("/")
        end

        # @param alert [Store::Alert]
        # @return [Hash{String=>Object}] see docs/alert-message.schema.json
        def of(alert)
          rule = alert.rule
          fields = alert.about.all_fields
          total, latest = alert.lines(LINES)
          {
            "id" => alert.id, "name" => Text.display(alert.name), "severity" => Severity::NAMES[alert.severity],
            "severity_code" => alert.severity, "machine" => alert.machine && Text.display(alert.machine),
            "key" => rule.told_by(alert.keys).to_h { |field, value| [field, Text.display(value)] },
            "where" => Text.display(alert.keys.join(", ")), "state" => alert.state,
            "since" => stamp(alert.from_us), "raised" => stamp(alert.raised_us), "until" => stamp(alert.last_us),
            "taken_by" => alert.taken_by, "condition" => rule.in_words, "line_count" => total,
            "lines" => latest.map { |event| line(event) },
            "told" => alert.told.last(LINES).map { |entry| Text.display(entry.says) }, "cause" => alert.likely_cause,
            "because_of" => alert.root && titled(alert.root),
            "folded" => alert.folded.first(MOST).map { |one| titled(one) },
            "remedy" => alert.last_remedy, "why" => Watch::FirstSteps.plain(rule.why, fields),
            "first_steps" => Watch::FirstSteps.plain(rule.steps, fields), "owner" => rule.owner,
            "link" => "#{address}/alerts?show=all&alert=#{alert.id}"
          }
        end

        def titled(alert) = Text.display([alert.name, *alert.keys].join(", "))
        private_class_method :titled

        def line(event)
          { "time" => stamp(event.time_us), "message" => Text.line(event.message)[0, MOST_LINE] }
        end
        private_class_method :line

        def stamp(us) = Time.at(0, us, :microsecond, in: "UTC").strftime("%Y-%m-%dT%H:%M:%SZ")
        private_class_method :stamp
      end
    end
  end
end
