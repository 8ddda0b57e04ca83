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

        # @param edge [Northdrift::Fleet::Dependencies::Edge]
        def edge(edge) = { "machine" => edge.machine, "on" => edge.on, "kind" => edge.kind }

        # @param report [Store::FleetReport]
        # @param page [Store::FleetPage]
        # @param places [Array<Store::FleetPage::Place>] of the piece that is told
        def page(report, page, places)
          machines = report.machines(places.map(&:name).uniq).to_h { |one| [one.name, machine(one)] }
          sizes = page.groups
          {
            "rows" =>
              places.map do |place|
                {
                  "group" => place.group, "group_machines" => sizes.fetch(place.group),
                  "machine" => machines.fetch(place.name)
                }
              end,
            "machines" => page.names.size, "ill" => page.ill, "silent" => page.silent,
            "more" => page.more?(places.last), "start_us" => report.start_us, "to_us" => report.to_us
          }
        end

        # @param report [Store::FleetReport]
        def map(report)
          map = Store::FleetMap.new(report)
          {
            "machines" => report.machines(map.drawn).map { |one| machine(one) },
            "edges" => map.edges.map { |edge| edge(edge) }, "others" => map.others
          }
        end

        # So many alerts of a machine are told.
        ALERTS = 3

        # @param alerts [Array<Store::MachineAlerts::One>] the worst first
        def alerts(alerts)
          first = alerts.first(ALERTS).map { |one| one.to_h.slice(:id, :name, :severity, :state).stringify_keys }
          { "first" => first, "all" => alerts.size }
        end

        # @param machine [Store::FleetReport::Machine]
        def machine(machine)
          problems = machine.problems.map { |one| Logbook.happening(one.happening).merge("times" => one.times) }
          roster(machine.said).merge(
            "strip" => machine.strip, "heard_us" => machine.heard_us, "silent_us" => machine.silent_us,
            "restarts" => machine.restarts, "versions" => machine.versions, "derived" => machine.derived,
            "tier" => machine.tier,
            "problems" => problems, "alerts" => alerts(machine.alerts)
          )
        end
      end
    end
  end
end
