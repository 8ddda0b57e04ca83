# frozen_string_literal: true

module Northdrift
  module Demo
    # The demo's watch: the ready-made rules are on, its ten days have had their alerts, people did what they do with
    # them, and somebody is told.
    module Watch
      DAYS = 10
      DAY_US = 86_400_000_000
      # Who took an alert, how soon, and what helped, by the name of its rule, and its first value.
      DONE = {
        "Link flaps" =>
          ["Olav", "Rain on the Brennsund link. The radio was set to its lower rate by hand until it was dry."],
        "Routing neighbour lost" =>
          ["Olav", "Came back with the radio link; nothing to do here."],
        "Password guessing" =>
          ["Ida", "203.0.113.77 was shut out on the bastion; the account made by it was removed."],
        "Failed passwords, then a logon" =>
          ["Ida", "The kiosk account has a new password and may log in from the halls alone."],
        "Machine crashed, hall-kiosk-3" =>
          ["Berit", "The plug had been pulled for cleaning; it has a clamp now."],
        "Machine crashed, gate-tar-1" =>
          ["Sigrid", "The driver of the berth sensor was taken back to the version before."],
        "Service crashed" =>
          ["Berit", "The spooler's queue was emptied, then the driver of the voucher printer renewed."],
        "Certificate ends or was refused" =>
          ["Sigrid", "The booking service has a new certificate; it renews itself now."],
        "Hardware fault" => ["Berit", "The memory module of hv-2 in slot B2 was replaced."]
      }.freeze
      ROUTES = [
        ["On call", "mail", { "to" => ["oncall@tarnholm.example"] }, { "severity" => "error", "back" => true }],
        [
          "Nobody took it", "mail", { "to" => ["ida@tarnholm.example"] },
          { "severity" => "critical", "wait" => "15min" }
        ],
        ["Ticket desk", "hook", { "path" => "/desk" }, { "severity" => "warning", "back" => true }],
        [
          "Operations centre", "trap", {},
          { "severity" => "warning", "find" => "host.name = sw-* or host.name = rtr-*" }
        ]
      ].freeze

      module_function

      # @param data [String] data folder, open
      # @param port [Integer] of the page of those who are told, see {Standins::Catchers}
      def prepare(data, port)
        Store::Database.open(data)
        return if Store::AlertRule.exists?

        now_us = Store::Clock.now_us
        Store::Database.step do
          rules = Northdrift::Watch::Catalogue.families.flat_map(&:rules).map { |given| switch_on(given, now_us) }
          past(rules.map(&:rule), now_us)
          Store::Setting.set(Server::Sending::Planner::POSITION, Store::AlertStep.maximum(:id).to_s)
          tell(port, now_us)
          planned(now_us)
        end
        Store::Alert.find_each(&:keep_cause)
        ClosedCases.make
      end

      def switch_on(given, now_us)
        Store::AlertRule.new(enabled: true, created_us: now_us, changed_us: now_us).tap do |one|
          one.given = given
          one.save!
        end
      end
      private_class_method :switch_on

      # As it would have been, had it been watched. What was raised since yesterday stands open.
      def past(rules, now_us)
        found = rules.flat_map do |rule|
          Store::AlertTrial.new(rule, now_us - (DAYS * DAY_US), now_us).found.map { |one| [rule, one] }
        end
        found.sort_by { |_, one| one.span.raised_us }.each do |rule, one|
          Store::Alert.note(rule, one.key, [one.span], one.span.raised_us)
        end
        yesterday_us = (now_us / DAY_US * DAY_US) - DAY_US
        Store::Alert.where("raised_us < ?", yesterday_us).find_each { |alert| close(alert) }
      end
      private_class_method :past

      def close(alert)
        who, remedy =
          DONE["#{alert.name}, #{alert.keys.first}"] || DONE[alert.name] || [%w[Olav Sigrid Berit Ida][alert.id % 4],
                                                                             ""]
        alert.act("take", who: who, now_us: alert.raised_us + 240_000_000, state: "taken", taken_by: who,
                          taken_us: alert.raised_us + 240_000_000)
        closed_us = alert.last_us + 1_500_000_000
        alert.act("close", who: who, now_us: closed_us, text: remedy, state: "closed", closed_us: closed_us,
                           remedy: remedy)
      end
      private_class_method :close

      # The patch job says when it restarts a machine.
      def planned(now_us)
        Store::Quiet.create!(
          kind: "maintenance", find: "", entries: '["package"]', says: "planned", lasts_us: 1_800_000_000,
          why: "the patch job restarts machines by itself", from_us: now_us, created_us: now_us, changed_us: now_us
        )
      end
      private_class_method :planned

      def tell(port, now_us)
        places = {
          "mail" => {}, "hook" => { "url" => "http://127.0.0.1:#{port}" },
          "trap" => { "host" => "127.0.0.1", "port" => port + Standins::Catchers::PORTS[:trap], "secret" => "public" }
        }
        ROUTES.each do |name, kind, given, definition|
          path = given["path"].to_s
          settings = places.fetch(kind).merge(given.except("path"))
          settings["url"] += path if settings.key?("url")
          route = Store::AlertRoute.new(name: name, kind: kind, created_us: now_us, changed_us: now_us)
          route.given = settings
          route.wanted = definition
          route.save!
        end
      end
      private_class_method :tell
    end
  end
end
