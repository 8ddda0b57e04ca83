# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # The machines: how they are, what is said of them, what they cannot do without, and how long they were up.
      class Fleet < Resource
        DAY_US = 86_400_000_000
        MOST_DAYS = 92
        MOST_TABLE = 4_000_000
        MOST_GROUPS = 200
        MACHINES = 100
        MOST_MACHINES = 500

        error(Northdrift::Fleet::Roster::Mistake) { |error| problem(422, "unfit-table", error.message) }

        error(Store::Renaming::Unfit) { |error| problem(422, "unfit-name", error.message) }

        # Piece by piece, under what people say of them.
        get "/" do
          report = Store::FleetReport.new(now_us)
          by = choice("by", Store::FleetPage::GROUPS.keys, "site")
          page = Store::FleetPage.new(report, by: by, text: text("text"))
          places = page.piece(integer("limit", 1..MOST_MACHINES, MACHINES), after: place)
          json(Present::Fleet.page(report, page, places))
        end

        # What cannot do without what.
        get "/map" do
          json(Present::Fleet.map(Store::FleetReport.new(now_us)))
        end

        # What is said of one machine, in the place of what was said before.
        put "/machines/:name" do
          entries = Northdrift::Fleet::Roster.read(json([carried.merge("machine" => params["name"])]))
          Store::Fleet.keep(entries)
          json(Present::Fleet.roster(entries.first))
        end

        # Another name for a machine that was named after where its lines came from.
        patch "/machines/:name" do
          called = required(carried, "name")
          json("machine" => called, "lines" => Store::Renaming.rename(params["name"], called))
        end

        # A table, CSV or JSON; machines that it does not name stay as they are.
        post "/table" do
          entries = Northdrift::Fleet::Roster.read(sent(MOST_TABLE))
          Store::Fleet.keep(entries)
          json("machines" => entries.size)
        end

        get "/table.csv" do
          content_type "text/csv; charset=utf-8"
          attachment "fleet.csv"
          Northdrift::Fleet::Roster.to_csv(Store::Fleet.current.roster)
        end

        get "/table.json" do
          attachment "fleet.json"
          Northdrift::Fleet::Roster.to_json(Store::Fleet.current.roster)
        end

        # Arrows that the lines propose.
        get "/proposals" do
          found =
            Northdrift::Fleet::Namings.proposals(
              Store::WhoNamesWhom.counts(time("from"), time("to")), Store::Fleet.current.dependencies
            )
          json(
            "proposals" =>
              found.map { |one| { "machine" => one.machine, "on" => one.on, "lines" => one.lines, "back" => one.back } }
          )
        end

        post "/dependencies" do
          object = carried
          kind = object.fetch("kind", "needs")
          unless Northdrift::Fleet::Dependencies::KINDS.key?(kind)
            raise BadParameter.new("kind", "an arrow says needs or runs-on")
          end

          machine = required(object, "machine")
          on = required(object, "on")
          raise BadParameter.new("on", "a machine cannot need itself") if machine == on

          Store::Fleet.add([Northdrift::Fleet::Dependencies::Edge.new(machine, on, kind)])
          status 201
          json("edges" => Store::Fleet.current.dependencies.edges.map { |edge| Present::Fleet.edge(edge) })
        end

        # By site, role or tag, and by day.
        get "/availability" do
          by = choice("by", Present::Availability::GROUPS, "site")
          to_us = time("to") || now_us
          from_us = [time("from") || (to_us - (10 * DAY_US)), to_us - (MOST_DAYS * DAY_US)].max
          name = params["zone"] || "UTC"
          zone =
            ActiveSupport::TimeZone[name] ||
            raise(BadParameter.new("zone", "there is no time zone “#{Text.display(name)}”"))
          uptime = Store::Uptime.new(from_us, to_us, zone)
          json(Present::Availability.page(uptime, by, most: MOST_GROUPS))
        end

        private

        # The last one that was told of.
        def place
          params["after"] && Store::FleetPage::Place.new(params["after_group"] && text("after_group"), text("after"))
        end
      end
    end
  end
end
