# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What happened to the machines, as their lines tell it.
      class LogbookPages < Resource
        MOST = 2000
        DAY_US = 86_400_000_000

        get "/" do
          story = Store::Story.new(**asked)
          counts = story.kinds
          kinds =
            Logbook::Rule::KINDS.map do |kind, title|
              { "kind" => kind, "title" => title, "count" => counts.fetch(kind, 0) }
            end
          days =
            story.days.sort.map do |day, by|
              { "from_us" => day * DAY_US, "severities" => Array.new(9) { |code| by.fetch(code, 0) } }
            end
          catalogue = Store::LogbookSwitch.catalogue
          entries =
            story
              .entries(most: integer("limit", 1..MOST, 500))
              .map { |one| Present::Logbook.happening(one.happening, one.outcome) }
          json(
            "happenings" => entries, "total" => story.total, "kinds" => kinds, "days" => days,
            "persons" => story.persons.map { |name, n| { "name" => name, "count" => n } },
            "rules" => catalogue.rules.size, "reading" => Store::Past.progress(catalogue)&.round(3)
          )
        end

        private

        def asked
          {
            from_us: time("from"), to_us: time("to"), kinds: kinds, machines: machines, person: text("person").presence,
            text: text("text").strip, least: least
          }
        end

        # Those that are named, or that a question's lines may be of.
        def machines
          return text("machine").split(",") unless params["machine"].to_s.empty?

          question.machines if %w[find chip scope].any? { |name| params.key?(name) }
        end

        def kinds
          kinds = params["kind"].to_s.split(",")
          unknown = kinds.find { |kind| !Logbook::Rule::KINDS.key?(kind) }
          if unknown
            raise BadParameter.new(
              "kind",
              "there is no kind “#{Text.display(unknown)}”; there are #{Logbook::Rule::KINDS.keys.join(', ')}"
            )
          end

          kinds
        end

        def least = params["least"].to_s.empty? ? nil : Severity::NAMES.index(choice("least", Severity::NAMES, nil))
      end
    end
  end
end
