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
          "take" => ["taken", %w[open taken]], "give" => ["taken", %w[open taken]], "give_back" => ["open", %w[taken]],
          "close" => ["closed", %w[open taken]], "reopen" => ["open", %w[closed]], "note" => [nil, Store::Alert::STATES]
        }.freeze

        # By which moment they are put in order, and set against the window: what lasted in it, or what somebody took or
        # closed in it.
        ORDERS = { "raised" => "raised_us", "taken" => "taken_us", "closed" => "closed_us" }.freeze

        # The latest first, with counts of all states within the window and of what the find text finds.
        get "/" do
          all = within = found(in_time(of_root(Store::Alert.all)))
          states = text("state").split(",").map(&:strip).reject(&:empty?)
          stray = states - Store::Alert::STATES
          raise BadParameter.new("state", "a state is one of #{Store::Alert::STATES.join(', ')}") if stray.any?

          told = within.where(quiet_id: nil)
          within = quiet_ones(within)
          shown = states.empty? ? within : within.where(state: states)
          json(
            "alerts" => Present::Alerts.list(shown.order(order => :desc, id: :desc).limit(MOST)),
            "total" => shown.count,
            "counts" => Store::Alert::STATES.to_h { |state| [state, told.where(state: state).count] },
            "quiet" => all.where.not(quiet_id: nil).where.not(state: "closed").count,
            "newest" => Store::Alert.maximum(:id).to_i,
            "people" => Store::Person.responders.pluck(:name)
          )
        end

        get "/:id" do
          json(Present::Alerts.detail(Store::Alert.find(params["id"])))
        end

        get "/:id/course" do
          course = Store::AlertCourse.new(Store::Alert.find(params["id"]))
          json("course" => course.any? ? Present::Alerts.course(course) : nil)
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

          given = name == "give" ? person(object) : string(object, "text")[0, MOST_TEXT]
          done = Store::Alert.where(id: ids).select { |alert| act(alert, name, given) }
          json("alerts" => Present::Alerts.list(done), "left" => ids.size - done.size)
        end

        # Takes back the last that somebody did with it.
        post "/:id/undone" do
          alert = Store::Alert.find(params["id"])
          problem(409, "nothing-to-undo", "nobody did anything since it was last raised") unless alert.undo(now_us)
          json(Present::Alerts.detail(alert.reload))
        end

        private

        # With those that are folded under it: they are one trouble. A note is of one alone.
        # @return [Boolean] whether it could be done
        def act(alert, name, text)
          state, from = ACTIONS.fetch(name)
          return false unless from.include?(alert.state)

          at_us = now_us
          [alert, *(alert.folded if state)].select { |one| from.include?(one.state) }.each do |one|
            one.act(name, who: author, now_us: at_us, text: text, **changes(name, state, text))
          end
          true
        end

        # Those that are folded under one, or under none; or all.
        def of_root(alerts)
          root = text("root")
          return alerts if root == "any"

          root.empty? ? alerts.roots : alerts.where(root_id: Store::Alert.where(id: root.to_i))
        end

        # Without those that nobody is told of, or those alone.
        def quiet_ones(alerts)
          case text("quiet")
          when "" then alerts
          when "no" then alerts.where(quiet_id: nil)
          when "only" then alerts.where.not(quiet_id: nil)
          else raise BadParameter.new("quiet", "quiet is no or only")
          end
        end

        def changes(name, state, text)
          case name
          when "note" then {}
          when "close" then { state: state, closed_us: now_us, remedy: text }
          when "take", "give" then { state: state, taken_by: name == "give" ? text : author, taken_us: now_us }
          else { state: state, taken_by: nil, taken_us: nil, closed_us: nil, reopened: name == "reopen" }
          end
        end

        def author = who.name || Access::Audit::ALONE

        # @return [String] name of who it is given to
        def person(object)
          name = required(object, "text")
          return name if Store::Person.responders.exists?(name: name)

          raise BadParameter.new("text", "there is nobody “#{Text.display(name)}” who may take alerts")
        end

        def order
          by = text("by")
          ORDERS.fetch(by.empty? ? "raised" : by) do
            raise BadParameter.new("by", "by is one of #{ORDERS.keys.join(', ')}")
          end
        end

        def in_time(alerts)
          return in_window(alerts, begins: "raised_us") if order == "raised_us"

          from, to = window
          alerts = alerts.where.not(order => nil)
          alerts = alerts.where(order => from..) if from
          to ? alerts.where(order => ...to) : alerts
        end

        # Of all that there are, and not of those that are shown. One that others are folded under is found by them.
        def found(alerts)
          find = text("find").strip
          return alerts if find.empty?

          alerts.matching(Find::Parser.parse(find), folded: text("root").empty?)
        end
      end
    end
  end
end
