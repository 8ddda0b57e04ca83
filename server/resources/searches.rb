# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Saved questions.
      class Searches < Resource
        MOST_TAGS = 20

        get "/" do
          json("searches" => own.includes(:team).kept.order(:folder, :name).map { |search| present(search) })
        end

        # One of the same name and folder is overwritten only on request.
        post "/" do
          wanted = carried
          name = required(wanted, "name")
          folder = string(wanted, "folder")
          team = team(wanted)
          known = Store::Search.kept.find_by(team_id: team, folder: folder, name: name)
          if known && wanted["overwrite"] != true
            problem(409, "exists", "there is a search “#{name}” in this folder already")
          end

          search = known || Store::Search.new(team_id: team, name: name, folder: folder, created_us: now_us)
          search.update!(query: string(wanted, "query"), tags: json(tags(wanted)), changed_us: now_us)
          status(known ? 200 : 201)
          json(present(search))
        end

        delete "/:id" do
          search = own.kept.find(params["id"])
          search.update!(deleted_us: now_us)
          json(present(search))
        end

        # Takes the deletion back.
        post "/:id/restored" do
          search = own.find(params["id"])
          taken = Store::Search.kept.exists?(team_id: search.team_id, folder: search.folder, name: search.name)
          if taken && search.deleted_us
            problem(409, "exists", "there is another search “#{search.name}” in this folder by now")
          end

          search.update!(deleted_us: nil)
          json(present(search))
        end

        private

        # What is everybody's, and what belongs to one's teams.
        def own = Store::Search.of_teams(who.teams)

        def tags(wanted)
          tags = wanted.fetch("tags", [])
          unless tags.is_a?(Array) && tags.size <= MOST_TAGS && tags.all?(String)
            raise BadParameter.new("tags", "tags are a list of no more than #{MOST_TAGS} words")
          end

          tags.map(&:strip).reject(&:empty?).uniq
        end

        def present(search)
          {
            "id" => search.id, "name" => search.name, "folder" => search.folder, "tags" => search.tag_names,
            "query" => search.query, "changed_us" => search.changed_us, "deleted" => !search.deleted_us.nil?
          }.merge(search.owner, search.authors)
        end
      end
    end
  end
end
