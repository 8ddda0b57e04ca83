# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Who is told of which alerts, how, and when.
      class AlertRoutes < Resource
        error(Sending::Form::Unfit) do |error|
          problem(422, "unfit-setting", error.message, "parameter" => error.setting)
        end
        error(Rules::Mistake) do |mistake|
          problem(422, "unfit-route", mistake.message, "parameter" => mistake.part)
        end

        get "/" do
          json(
            "routes" => Store::AlertRoute.present.order(:id).map { |route| present(route) },
            "usual" => {
              "subject" => Northdrift::Sending::Template::SUBJECT, "text" => Northdrift::Sending::Template::TEXT
            },
            "mail_server" => Store::MachineSettings.current.mail_server, "programs" => programs
          )
        end

        post "/" do
          wanted = carried
          route = Store::AlertRoute.new(kind: required(wanted, "kind"), created_us: now_us)
          take(route, { "name" => required(wanted, "name"), "settings" => {}, "definition" => {} }.merge(wanted))
          status 201
          json(present(route))
        end

        patch "/:id" do
          route = Store::AlertRoute.present.find(params["id"])
          take(route, carried)
          json(present(route))
        end

        # What it would say of the latest alert that it tells of, or of the latest that there is; nothing is kept.
        post "/preview" do
          wanted = carried
          template = Northdrift::Sending::Route.new(definition(wanted)).template
          alert = Store::Alert.order(:id).last or
            problem(409, "no-alert", "there is no alert yet that it could be shown with")
          occasion = wanted["occasion"] == "back" ? "back" : "raised"
          values = Sending::Contents.message("preview", occasion, [alert]).to_h
          json(
            "subject" => template.subject(values), "text" => template.text(values), "html" => template.html(values),
            "json" => values
          )
        end

        # Tells of the latest alert, as a test, whether it would be told or not.
        post "/:id/tests" do
          route = Store::AlertRoute.on.find(params["id"])
          Store::Alert.exists? or problem(409, "no-alert", "there is no alert yet that a test could tell of")
          number = now_us
          route.recipients.each do |recipient|
            Store::AlertDelivery.plan(
              route_id: route.id, recipient: recipient, step_id: number, occasion: "test", due_us: number,
              created_us: number
            )
          end
          status 201
          json(present(route))
        end

        undoable Store::AlertRoute

        private

        def take(route, wanted)
          route.name = required(wanted, "name") if wanted.key?("name")
          route.enabled = wanted["enabled"] == true if wanted.key?("enabled")
          route.wanted = definition(wanted) if wanted.key?("definition")
          if wanted.key?("settings")
            route.given = Sending::Form.check(route.kind, secret_of(route, wanted).merge(settings_of(wanted)))
          end
          route.update!(changed_us: now_us)
        end

        def definition(wanted)
          given = wanted["definition"]
          given.is_a?(Hash) ? given : raise(BadParameter.new("definition", "definition is a route, as an object"))
        end

        def settings_of(wanted)
          settings = wanted["settings"]
          raise BadParameter.new("settings", "settings go by their names") unless settings.is_a?(Hash)

          settings.reject { |name, value| name == Store::AlertRoute::SECRET && value.to_s.empty? }
        end

        # A secret that is not given again stays, unless it goes elsewhere: it is that place's.
        def secret_of(route, wanted)
          return {} if route.new_record?

          given = route.given
          given.slice("url", "host") == wanted["settings"].slice("url", "host") ? given.slice("secret") : {}
        end

        # @return [Array<String>] names of those that may be told
        def programs
          folder = Store::MachineSettings.current.programs
          return [] if folder.empty? || !File.directory?(folder)

          Dir.children(folder).select { |name| File.file?(File.join(folder, name)) }.sort
        end

        def present(route)
          of_it = Store::AlertDelivery.where(route_id: route.id)
          {
            "id" => route.id, "name" => Text.display(route.name), "kind" => route.kind, "enabled" => route.enabled,
            "settings" => route.given.except("secret"), "definition" => route.wanted, "sent" => of_it
              .where(state: "sent").count, "waiting" => of_it.waiting.count,
            "problem" => of_it.waiting.where.not(problem: nil).order(:id).pick(:problem)
          }.merge(route.authors)
        end
      end
    end
  end
end
