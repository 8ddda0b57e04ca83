# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Saved sets of machines, services and conditions, which stay on.
      class Scopes < Resource
        get "/" do
          json("scopes" => Store::Scope.order(:name).map { |scope| present(scope) })
        end

        # One of the same name is overwritten.
        put "/" do
          wanted = carried
          find = required(wanted, "find")
          Find::Parser.parse(find, known: -> { Store::Kinds.current.field_names })
          scope = Store::Scope.find_or_initialize_by(name: required(wanted, "name"))
          scope.update!(find: find, changed_us: now_us)
          json(present(scope))
        end

        delete "/:id" do
          json(present(Store::Scope.find(params["id"]).destroy!))
        end

        private

        def present(scope) = { "id" => scope.id, "name" => scope.name, "find" => scope.find }.merge(scope.authors)
      end
    end
  end
end
