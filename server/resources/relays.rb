# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Where lines are sent on to.
      class Relays < Resource
        error(Relay::Form::Unfit) { |error| problem(422, "unfit-setting", error.message, "parameter" => error.setting) }

        get "/" do
          json("relays" => Store::Relay.present.order(:id).map { |relay| present(relay) })
        end

        # It begins with what comes in from now on.
        post "/" do
          wanted = carried
          kind = required(wanted, "kind")
          given = Relay::Form.check(kind, settings_of(wanted))
          relay =
            Store::Relay.create!(
              name: required(wanted, "name"), kind: kind, given: given, find: checked_find(wanted),
              position: Store::RelayQueue.last, created_us: now_us
            )
          status 201
          json(present(relay))
        end

        patch "/:id" do
          relay = Store::Relay.present.find(params["id"])
          wanted = carried
          relay.name = required(wanted, "name") if wanted.key?("name")
          relay.find = checked_find(wanted) if wanted.key?("find")
          relay.paused = wanted["paused"] == true if wanted.key?("paused")
          if wanted.key?("settings")
            relay.given = Relay::Form.check(relay.kind,
                                            secret_of(relay, wanted).merge(settings_of(wanted).compact_blank))
          end
          relay.update!(problem: nil)
          json(present(relay))
        end

        undoable Store::Relay, problem: nil

        private

        def settings_of(wanted)
          settings = wanted.fetch("settings", {})
          settings.is_a?(Hash) ? settings : raise(BadParameter.new("settings", "settings go by their names"))
        end

        # A token that is not given again stays, unless lines are to go elsewhere: it is that address's.
        def secret_of(relay, wanted)
          settings_of(wanted)["url"] == relay.given["url"] ? relay.given.slice("token") : {}
        end

        def checked_find(wanted)
          string(wanted, "find").tap { |find| Find::Parser.parse(find, known: -> { Store::Kinds.current.field_names }) }
        end

        def present(relay)
          {
            "id" => relay.id, "name" => Text.display(relay.name), "kind" => relay.kind,
            "settings" => relay.given.except("token"), "find" => relay.find, "paused" => relay.paused,
            "problem" => relay.problem, "sent" => relay.sent, "refused" => relay.refused, "gone" => relay.gone,
            "waiting" => relay.waiting
          }.merge(relay.authors)
        end
      end
    end
  end
end
