# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Why machines and services started, each with its evidence.
      class Restarts < Resource
        MOST = 200

        get "/" do
          machine = text("machine")
          restarts =
            Store::Restarts.new(from_us: time("from"), to_us: time("to"), machine: machine.empty? ? nil : machine)
          json(
            "restarts" => restarts.found(most: MOST).map { |one| Present::Logbook.restart(one) },
            "total" => restarts.total
          )
        end
      end
    end
  end
end
