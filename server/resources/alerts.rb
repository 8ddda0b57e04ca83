# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What was raised, and what becomes of it.
      class Alerts < Resource
        MOST = 500
        MOST_TEXT = 10_000
        # By what a person does: the state that it leads to, and from which.
        ACTIONS = {
          "take" => ["taken", %w[open taken]], "give_back" => ["open", %w[taken]],
          "close" => ["closed", %w[open taken]], "reopen" => ["open", %w[closed]], "note" => [nil, Store::Alert::STATES]
        }.freeze

        # The latest first, with counts of all states within the window.
        get "/" do
          within = in_window(Store::Alert.all)
          states = text("state").split(",").map(&:strip).reject(&:empty?)
          stray = states - Store::Alert::STATES
          raise BadParameter.new("state", "a state is one of #{Store::Alert::STATES.join(', ')}") if stray.any?

          shown = states.empty? ? within : within.where(state: states)
          json(
            "alerts" => shown.order(raised_us: :desc, id: :desc).limit(MOST).map { |one| Present::Alerts.alert(one) },
            "total" => shown.count,
            "counts" => Store::Alert::STATES.to_h { |state| [state, within.where(state: state).count] }
          )
        end

        get "/:id" do
          json(Present::Alerts.detail(Store::Alert.find(params["id"])))
        end

        # Many at once: what cannot be done with one is left as it is, and told.
        post "/actions" do
          object = carried
          name = required(object, "action")
          ACTIONS.key?(name) or raise BadParameter.new("action", "an action is one of #{ACTIONS.keys.join(', ')}")
          ids = object["ids"]
          unless ids.is_a?(Array) && ids.size <= MOST && ids.all?(Integer)
            raise BadParameter.new("ids", "ids are a list of no more than #{MOST} numbers")
          end

          done = Store::Alert.where(id: ids).select { |alert| act(alert, name, string(object, "text")[0, MOST_TEXT]) }
          json("alerts" => done.map { |alert| Present::Alerts.alert(alert) }, "left" => ids.size - done.size)
        end

        # Takes back the last that somebody did with it.
        post "/:id/undone" do
          alert = Store::Alert.find(params["id"])
          problem(409, "nothing-to-undo", "nobody did anything since it was last raised") unless alert.undo(now_us)
          json(Present::Alerts.detail(alert.reload))
        end

        private

        # @return [Boolean] whether it could be done
        def act(alert, name, text)
          state, from = ACTIONS.fetch(name)
          return false unless from.include?(alert.state)

          alert.act(name, who: author, now_us: now_us, text: text, **changes(name, state, text))
          true
        end

        def changes(name, state, text)
          case name
          when "note" then {}
          when "close" then { state: state, closed_us: now_us, remedy: text }
          when "take" then { state: state, taken_by: author }
          else { state: state, taken_by: nil, closed_us: nil, reopened: name == "reopen" }
          end
        end

        def author = who.name || Access::Audit::ALONE

        # Those that lasted within it.
        def in_window(alerts)
          from, to = %w[from to].map { |name| text(name) }.map { |value| Integer(value, exception: false) }
          alerts = alerts.where("last_us >= ?", from) if from
          to ? alerts.where("raised_us < ?", to) : alerts
        end
      end
    end
  end
end
