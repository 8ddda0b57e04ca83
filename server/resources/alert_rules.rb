# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What is watched for.
      class AlertRules < Resource
        DAY_US = 86_400_000_000
        DAYS = (1..90)
        USUAL_DAYS = 30
        MOST_FOUND = 500

        error(Rules::Mistake) do |mistake|
          problem(422, "unfit-rule", mistake.message, "parameter" => mistake.part)
        end

        get "/" do
          rules = Store::AlertRule.present.to_a
          json(
            "rules" => rules.map { |rule| present(rule) }, "shipped" => shipped(rules.map { |rule| rule.given["id"] }),
            "kinds" => choices(Logbook::Rule::KINDS), "reasons" => choices(Store::Discoveries::REASONS),
            "owners" => (Store::Person.responders.pluck(:name) + Store::Team.pluck(:name)).uniq.sort
          )
        end

        # What it would have raised of the lines of the last days; nothing is kept.
        post "/trial" do
          object = carried
          rule = Watch::Rule.new(definition(object))
          rule.finds.each_value { |find| Find::Parser.parse(find, known: -> { Store::Kinds.current.field_names }) }
          json(Present::Alerts.trial(Store::AlertTrial.new(rule, *days(object)), zone(object)))
        end

        post "/" do
          object = carried
          rule = Store::AlertRule.new(enabled: object["enabled"] == true, created_us: now_us, changed_us: now_us)
          rule.given = definition(object)
          rule.save!
          status 201
          json(present(rule))
        end

        patch "/:id" do
          object = carried
          rule = Store::AlertRule.present.find(params["id"])
          rule.given = definition(object) if object.key?("definition")
          rule.enabled = object["enabled"] == true if object.key?("enabled")
          rule.update!(problem: nil, changed_us: now_us)
          Store::Database.step { Store::AlertFolds.unfold(rule.id) } unless rule.rule.fold?
          json(present(rule))
        end

        undoable Store::AlertRule

        private

        def choices(titles) = titles.map { |name, title| { "name" => name, "title" => title } }

        # @param known [Array<String>] ids of those that are there already
        def shipped(known)
          Watch::Catalogue.families.map do |family|
            {
              "title" => family.title,
              "definitions" => family.rules.reject { |definition| known.include?(definition["id"]) }
            }
          end
        end

        def definition(object)
          given = object["definition"]
          given.is_a?(Hash) ? given : raise(BadParameter.new("definition", "definition is a rule, as an object"))
        end

        # @return [Array(Integer, Integer)] the last days of the lines that there are
        def days(object)
          days = object.fetch("days", USUAL_DAYS)
          unless days.is_a?(Integer) && DAYS.cover?(days)
            raise BadParameter.new("days", "days are a whole number from #{DAYS.begin} to #{DAYS.end}")
          end

          to_us = [Store::Span.all[1].to_i, now_us].min + 1
          [to_us - (days * DAY_US), to_us]
        end

        # @return [ActiveSupport::TimeZone]
        def zone(object)
          name = object.fetch("zone", "UTC")
          (name.is_a?(String) && ActiveSupport::TimeZone[name]) or
            raise BadParameter.new("zone", "there is no time zone “#{Text.display(name.to_s)}”")
        end

        def present(rule)
          {
            "id" => rule.id, "name" => rule.given["name"], "severity" => rule.given.fetch("severity", "error"),
            "enabled" => rule.enabled, "problem" => rule.problem, "definition" => rule.given,
            "open" => Store::Alert.where(rule_id: rule.id).where.not(state: "closed").count
          }.merge(rule.authors)
        end
      end
    end
  end
end
