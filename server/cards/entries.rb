# frozen_string_literal: true

module Northdrift
  module Server
    module Cards
      # What the logbook tells of the machines that the question may be about; what is routine is left out.
      class Entries < Answer
        NAME = "logbook"
        ROUTE = "GET /api/logbook"
        MOST = 100
        LEAST = Severity::NAMES.index("notice")

        def weight(_events) = 0

        private

        def further = [kinds, asked("person"), asked("text")]

        def kinds
          asked("kind").to_s.split(",").each do |kind|
            next if Logbook::Rule::KINDS.key?(kind)

            raise Northdrift::Boards::Mistake.new("query", "there is no kind of entry “#{Text.display(kind)}”")
          end
        end

        def told
          story = Store::Story.new(
            from_us: question.from_us, to_us: question.to_us, kinds: kinds, machines: question.machines,
            person: asked("person"), text: asked("text").to_s.strip, least: LEAST
          )
          entries = story.entries(most: MOST).map { |one| Present::Logbook.happening(one.happening, one.outcome) }
          { "entries" => entries, "total" => story.total }
        end
      end
    end
  end
end
