# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What was told to whom, and what waits.
      class Deliveries < Resource
        MOST = 200

        get "/" do
          all = Store::AlertDelivery.all
          all = all.where(route_id: text("route")) unless text("route").empty?
          state = text("state")
          unless state.empty? || Store::AlertDelivery::STATES.include?(state)
            raise BadParameter.new("state", "a state is one of #{Store::AlertDelivery::STATES.join(', ')}")
          end

          shown = state.empty? ? all : all.where(state: state)
          json(
            "deliveries" => shown.order(id: :desc).limit(MOST).includes(:alert).map { |one| present(one) },
            "total" => shown.count, "counts" => Store::AlertDelivery::STATES.to_h { |name| [name, all.where(state: name).count] }
          )
        end

        # Those that wait because of a problem are tried again now.
        post "/retried" do
          tried = Store::AlertDelivery.waiting.where.not(problem: nil).update_all(due_us: now_us)
          json("tried" => tried)
        end

        private

        def present(one)
          one.attributes.slice(
            "id", "route_id", "alert_id", "occasion", "state", "attempts", "problem", "subject", "due_us", "created_us",
            "sent_us"
          ).merge("recipient" => Text.display(one.recipient), "alert" => one.alert && Text.display(one.alert.name))
        end
      end
    end
  end
end
