# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Groups of people, what they share and what they see.
      class Teams < Resource
        error(Store::Team::Unfit, Store::Person::Unfit, Store::Sight::Unfit) do |error|
          problem(422, "unfit-team", error.message)
        end

        get("/") { json(state) }

        post "/" do
          object = carried
          Store::Team.add(
            string(object, "name"), sight: string(object, "sight"), people: members(object.fetch("people", []))
          )
          status 201
          json(state)
        end

        patch "/:id" do
          object = carried
          Store::Team.find(params["id"]).set(
            name: (string(object, "name") if object.key?("name")),
            sight: (string(object, "sight") if object.key?("sight")),
            people: (members(object["people"]) if object.key?("people"))
          )
          json(state)
        end

        delete "/:id" do
          Store::Team.find(params["id"]).remove
          json(state)
        end

        private

        def members(ids)
          found = Store::Person.where(id: ids).to_a if ids.is_a?(Array) && ids.all?(Integer)
          return found if found && found.size == ids.uniq.size

          raise BadParameter.new("people", "people are a list of their numbers")
        end

        def state
          json = Store::Team.includes(:people).order(:key).map do |team|
            {
              "id" => team.id, "name" => team.name, "sight" => team.sight,
              "people" => team.people.map { |person| { "id" => person.id, "name" => person.name } }
            }.merge(team.authors)
          end
          { "teams" => json }
        end
      end
    end
  end
end
