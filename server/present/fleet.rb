# frozen_string_literal: true

module Northdrift
  module Server
    module Present
      # Machines: what is said of them, and how they are.
      module Fleet
        module_function

        # @param one [Northdrift::Fleet::Roster::Machine]
        def roster(one)
          {
            "machine" => one.name, "site" => one.site, "role" => one.role, "tags" => one.tags, "needs" => one.needs,
            "runs_on" => one.runs_on
          }
        end

        # @param machine [Store::FleetReport::Machine]
        def machine(machine)
          problems = machine.problems.map { |one| Logbook.happening(one.happening).merge("times" => one.times) }
          roster(machine.said).merge(
            "strip" => machine.strip, "heard_us" => machine.heard_us, "silent_us" => machine.silent_us,
            "restarts" => machine.restarts, "versions" => machine.versions, "derived" => machine.derived,
            "tier" => machine.tier,
            "problems" => problems
          )
        end
      end
    end
  end
end
