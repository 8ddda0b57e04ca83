# frozen_string_literal: true

module Northdrift
  module Server
    module Present
      # Happenings, and what is concluded from them.
      module Logbook
        module_function

        # @param one [Store::Happenings::Kept]
        # @param outcome [Store::Happenings::Kept, nil] of the operation that it asked for
        def happening(one, outcome = nil)
          {
            "id" => one.id.to_s, "time_us" => one.time_us, "rule" => one.rule, "kind" => one.kind,
            "severity" => one.severity, "machine" => one.machine, "service" => one.service, "says" => one.says,
            "person" => one.person, "line" => one.of_line?, "until_us" => one.fields["to_us"]&.to_i,
            "outcome" =>
              outcome &&
                { "id" => outcome.id.to_s, "severity" => outcome.severity, "took_us" => outcome.time_us - one.time_us }
          }
        end

        # @param found [Store::Restarts::Found]
        def restart(found)
          verdict = found.verdict
          {
            "id" => verdict.start.id.to_s, "machine" => verdict.machine, "service" => verdict.service,
            "start_us" => verdict.start.time_us, "last_heard_us" => found.heard_us, "reason" => verdict.reason,
            "says" => verdict.says, "person" => verdict.person, "confidence" => verdict.confidence,
            "evidence" => verdict.evidence.map { |one| happening(one) },
            "against" => verdict.against.map { |one| happening(one) }, "missing" => verdict.missing,
            "weighed" => verdict.weighed.map { |one| one.to_h.transform_keys(&:to_s) },
            "look" => found.look.map { |look| look.to_h.transform_keys(&:to_s) }
          }
        end

        # @param one [Cause::Ranking::Candidate]
        def candidate(one)
          {
            "happening" => happening(one.happening), "score" => one.score.round(4), "before_us" => one.before_us,
            "steps" => one.steps, "where" => one.where, "times" => one.past.times, "harmful" => one.past.harmful
          }
        end
      end
    end
  end
end
