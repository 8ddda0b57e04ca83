# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Why machines started, each with its evidence.
      class Restarts < Resource
        MOST = 200

        get "/" do
          verdicts = Logbook::Verdicts.new(Store::Happenings.of(Logbook::Verdicts.rules)).all
          json("restarts" => verdicts.last(MOST).map { |verdict| present(verdict) }, "total" => verdicts.size)
        end

        private

        def present(verdict)
          start = verdict.start
          # What is told at the start itself says nothing of how long it was away.
          heard = Store::Happenings.last_heard(verdict.machine, verdict.began_us)
          { "id" => start.id.to_s, "machine" => verdict.machine, "start_us" => start.time_us, "last_heard_us" => heard,
            "reason" => verdict.reason, "says" => verdict.says, "confidence" => verdict.confidence,
            "evidence" => verdict.evidence.map { |one| Present.happening(one) }, "against" => verdict.against.map { |one| Present.happening(one) }, "look" => verdict.look }
        end
      end
    end
  end
end
