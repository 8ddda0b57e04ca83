# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # The rules that the logbook is read with: those that ship, which can be switched off, and those that people make.
      class LogbookRules < Resource
        DAY_US = 86_400_000_000
        SAMPLES = 8
        # Lines of the last day that a rule is tried on one by one.
        TRIED = 2000

        error(Rules::Mistake) { |error| problem(422, "unfit-rule", error.message, "parameter" => error.part) }

        get "/" do
          off = Store::LogbookSwitch.pluck(:rule)
          read = Store::Happenings.by_rule
          json(
            "families" =>
              Logbook::Catalogue.shipped.families.map do |family|
                {
                  "name" => family.name, "title" => family.title,
                  "rules" => family.rules.map { |rule| shipped(rule, off, read) }
                }
              end, "own" => Store::LogbookRule.present.map { |rule| present(rule, read) },
            "kinds" => Logbook::Rule::KINDS.map { |kind, title| { "kind" => kind, "title" => title } },
            "reading" => Store::Past.progress(Store::LogbookSwitch.catalogue)&.round(3)
          )
        end

        # What it would have read out of the last day that there is; nothing is kept.
        post "/trial" do
          object = carried
          rule = Logbook::Rule.new(definition(object))
          to_us = [Store::Span.all[1], now_us].min
          asked = Store::Question.new(find: rule.find, from_us: to_us - DAY_US, to_us: to_us + 1)
          events = asked.page(last: true, limit: TRIED).events
          sources = Store::Source.pluck(:id, :name).to_h
          found =
            events.filter_map do |event|
              (
                one =
                  rule.read(
                    event.event,
                    Find::Subjects.of(event.event, sources[event.source_id].to_s, Store::Fleet.current.said)
                  )
              ) && [event, one]
            end
          json(
            "lines" => asked.total, "looked_at" => events.size, "read" => found.size,
            "samples" =>
              found
                .last(SAMPLES)
                .reverse
                .map do |event, one|
                  {
                    "line" => Present.line(event), "says" => one.says, "person" => one.person,
                    "severity" => one.severity
                  }
                end
          )
        end

        post "/" do
          object = carried
          Logbook::Rule.new(definition(object))
          status 201
          json(present(Store::LogbookRule.create!(created_us: now_us, **attributes(object))))
        end

        # A rule that ships is only switched on or off.
        put "/switches/:rule" do
          rule =
            Logbook::Catalogue.shipped.rules.find { |one| one.id == params["rule"] } ||
            problem(404, "not-found", "there is no rule of this name")
          if carried["enabled"] == true
            Store::LogbookSwitch.where(rule: rule.id).delete_all
          else
            Store::LogbookSwitch.upsert({ rule: rule.id })
          end
          json(shipped(rule, Store::LogbookSwitch.pluck(:rule), {}))
        end

        patch "/:id" do
          rule = Store::LogbookRule.present.find(params["id"])
          object = carried
          rule.enabled = object["enabled"] == true if object.key?("enabled")
          if object.key?("find")
            Logbook::Rule.new(definition(object))
            rule.assign_attributes(attributes(object))
          end
          rule.save!
          json(present(rule))
        end

        undoable Store::LogbookRule

        private

        def definition(object)
          find = required(object, "find")
          Find::Parser.parse(find, known: -> { Store::Kinds.current.field_names })
          {
            "id" => "own", "kind" => string(object, "kind"), "find" => find, "take" => string(object, "take"),
            "says" => string(object, "says"), "severity" => object["severity"].to_s
          }
        end

        def attributes(object)
          {
            name: string(object, "name").presence || string(object, "says"), kind: string(object, "kind"),
            find: string(object, "find"), take: string(object, "take"), says: string(object, "says"),
            severity: object["severity"].to_s.presence
          }
        end

        def shipped(rule, off, read)
          {
            "id" => rule.id, "kind" => rule.kind, "find" => rule.find, "take" => rule.take, "says" => rule.says,
            "severity" => rule.severity && Severity.name(rule.severity), "source" => rule.source,
            "samples" => rule.samples, "enabled" => !off.include?(rule.id), "happenings" => read.fetch(rule.id, 0)
          }
        end

        def present(rule, read = {})
          {
            "id" => rule.id, "name" => Text.display(rule.name), "kind" => rule.kind, "find" => rule.find,
            "take" => rule.take, "says" => rule.says, "severity" => rule.severity, "enabled" => rule.enabled,
            "happenings" => read.fetch(rule.rule_id, 0)
          }.merge(rule.authors)
        end
      end
    end
  end
end
