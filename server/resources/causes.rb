# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What changed before something broke.
      class Causes < Resource
        MOST_PATTERNS = 12

        get "/" do
          changes = asked
          onset = changes.onset
          json(
            "machine" => changes.machine, "asked_us" => @at_us, "onset_us" => onset.at_us, "onset_of" => onset.of,
            "onset_find" => onset.find,
            "rate" =>
              onset.change &&
                {
                  "before" => onset.change.before.round(4), "after" => onset.change.after.round(4),
                  "gain" => onset.change.gain.round(1)
                }, "named" => changes.named,
            "candidates" => changes.candidates.map { |one| Present::Logbook.candidate(one) },
            "fresh" => changes.fresh.transform_keys(&:to_s), "unknown" => changes.unknown
          )
        end

        # Patterns that were there for the first time around the onset.
        get "/patterns" do
          around = asked.around
          table = Store::PatternTable.new(around, against: around.compared_with("before"))
          remedies = Store::Case.remedies
          survey(table) do
            {
              "patterns" =>
                table.rows.select(&:first_time).first(MOST_PATTERNS).map { |row| Present.pattern(row, remedies) }
            }
          end
        end

        private

        # From a line, a happening, a pattern within the question, or a moment of a machine.
        def asked
          event = line
          machine = params["machine"].to_s.empty? ? event&.machine : text("machine")
          @at_us =
            event&.time_us || time("at") ||
            problem(400, "bad-parameter", "say what broke: a line, a pattern, or a moment", "parameter" => "line")
          Store::ChangesBefore.new(at_us: @at_us, machine: machine, pattern: event&.pattern, besides: event&.id)
        end

        def line
          unless params["line"].to_s.empty?
            event = Store::Events.find(params["line"].to_i)
            return event || problem(404, "not-found", "this line is not there any more")
          end
          return if params["pattern"].to_s.empty?

          question.narrowed("pattern = #{text('pattern')}").page(limit: 1).events.first ||
            problem(404, "not-found", "no line of this pattern is there")
        end
      end
    end
  end
end
