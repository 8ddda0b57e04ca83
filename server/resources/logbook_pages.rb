# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What happened to the machines, as their lines tell it.
      class LogbookPages < Resource
        MOST = 2000
        DAY_US = 86_400_000_000

        get "/" do
          page = Store::Happenings.page(**asked)
          kinds = Logbook::Rule::KINDS.map { |kind, title| { "kind" => kind, "title" => title, "count" => page.kinds.fetch(kind, 0) } }
          days = page.days.sort.map { |day, by| { "from_us" => day * DAY_US, "severities" => Array.new(9) { |code| by.fetch(code, 0) } } }
          json("happenings" => page.found.map { |one| Present.happening(one) }, "total" => page.total, "kinds" => kinds, "days" => days, "rules" => Logbook::Catalogue.shipped.rules.size)
        end

        private

        def asked
          { from_us: time("from"), to_us: time("to"), kinds: kinds, machine: text("machine").then { |name| name.empty? ? nil : name }, text: text("text").strip, least: least,
            most: integer("limit", 1..MOST, 500) }
        end

        def kinds
          kinds = params["kind"].to_s.split(",")
          unknown = kinds.find { |kind| !Logbook::Rule::KINDS.key?(kind) }
          raise BadParameter.new("kind", "there is no kind “#{Text.display(unknown)}”; there are #{Logbook::Rule::KINDS.keys.join(', ')}") if unknown

          kinds
        end

        def least = params["least"].to_s.empty? ? nil : Severity::NAMES.index(choice("least", Severity::NAMES, nil))
      end
    end
  end
end
