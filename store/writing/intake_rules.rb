# frozen_string_literal: true

module Northdrift
  module Store
    # The rules that hold at present for what comes in, as {Rules::Set} takes them.
    module IntakeRules
      # Lines that are kept of what a rule turned away.
      KEPT = 200
      TURNED_AWAY =
        "INSERT INTO turned_away (rule_id, time_us, severity, machine, service, message) VALUES (?, ?, ?, ?, ?, ?)"

      # A line that a noise rule turned away; only this is kept of it.
      TurnedAway = Struct.new(:id, :rule, :time_us, :severity, :machine, :service, :message) do
        # @return [Find::Matcher::Subject]
        def subject
          Find::Matcher::Subject.new(
            severity, message, machine, service, message, -> { message },
            -> { Fleet.current.fields(machine).merge({ "host.name" => machine, "service.name" => service }.compact) }
          )
        end
      end
      AWAY =
        "SELECT away.id, rules.name, time_us, severity, machine, service, message FROM turned_away AS away JOIN " \
        "noise_rules AS rules ON rules.id = rule_id"

      module_function

      # @return [Integer] id of the last one
      def last_turned_away = Database.value("SELECT coalesce(max(id), 0) FROM turned_away")

      # @param since [Integer] id after which they are wanted
      # @return [Array<TurnedAway>] in order of their coming
      def turned_away(since)
        Database
          .rows("#{AWAY} WHERE away.id > ? ORDER BY away.id LIMIT #{KEPT}", [since])
          .map { |row| TurnedAway.new(*row) }
      end

      # @return [Array<TurnedAway>] the latest that a rule took, the latest first
      def latest(rule_id)
        Database.rows("#{AWAY} WHERE rule_id = ? ORDER BY away.id DESC", [rule_id]).map { |row| TurnedAway.new(*row) }
      end

      # @param now_us [Integer]
      # @param noise [Boolean] whether noise rules are wanted too
      # @return [Hash{String=>Object}] under "logbook", what {Logbook::Catalogue.of} takes,
      #   and under "alerts", see {AlertRule.definition}
      def definition(now_us, noise: true)
        rules = noise ? NoiseRule.present.where(action: %w[drop thin]).select { |rule| rule.holds?(now_us) } : []
        definition = {
          "parsers" => ParserRule.present.where(enabled: true).map(&:definition), "noise" => rules.map(&:definition),
          "logbook" => LogbookSwitch.definition
        }
        alerts = noise && AlertRule.definition
        definition["alerts"] = alerts if alerts
        called = MachineName.all_called
        definition["called"] = called unless called.empty?
        # It travels with every batch of lines, so only where it is asked for.
        definition["fleet"] = Fleet.current.said if conditions(definition).any? do |find|
          Fleet::FIELDS.any? { |name| find.include?(name) }
        end
        definition
      end

      def conditions(definition)
        [*definition["parsers"], *definition["noise"], *definition["logbook"]["own"]].map do |rule|
          (rule["find"] || rule[:find]).to_s
        end
      end
      private_class_method :conditions

      # Counts what was turned away; called within a write transaction.
      # @param taken [Hash{Integer=>Array(Integer, Integer, Array)}] by rule: lines, bytes, and the latest of them as
      #   time, severity, machine, service and message
      def note(taken)
        taken.each do |id, (lines, bytes, latest)|
          NoiseRule.where(id: id).update_all(["lines = lines + ?, bytes = bytes + ?", lines, bytes])
          latest.each { |line| Database.rows(TURNED_AWAY, [id, *line]) }
          Database.rows(
            "DELETE FROM turned_away WHERE rule_id = ? AND id <= (SELECT max(id) FROM turned_away WHERE rule_id = ?) " \
            "- ?",
            [id, id, KEPT]
          )
        end
      end
    end
  end
end
