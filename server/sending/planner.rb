# frozen_string_literal: true

module Northdrift
  module Server
    module Sending
      # Looks at what became of alerts, and plans who is told. Where it is, is written in the transaction that writes
      # the plan: nothing is missed, and nothing is planned twice.
      class Planner
        POSITION = "told alert steps until"
        STEPS = 200
        CAUSE_SECONDS = 3
        # Older ones are history, such as those of a backup.
        OLD_US = 86_400_000_000
        # By what became of an alert: what is told.
        OCCASIONS = {
          "raised" => "raised", "came again" => "raised", "worse" => "raised", "calm" => "back", "close" => "back"
        }.freeze

        # @param clock [#call] microseconds
        def initialize(clock: -> { Store::Clock.now_us })
          @clock = clock
        end

        # @return [Boolean] whether there was something to plan
        def step
          position = Store::Setting.get(POSITION).to_i
          steps = Store::AlertStep.where("id > ?", position).order(:id).limit(STEPS).includes(:alert).to_a
          return false if steps.empty?

          keep_causes(steps)
          routes = usable
          Store::Database.step do
            steps.each { |one| tell(one, routes) }
            Store::Setting.set(POSITION, steps.last.id.to_s)
          end
          true
        end

        private

        # @return [Hash{Store::AlertRoute=>Sending::Route}]
        def usable
          Store::AlertRoute.on.each_with_object({}) do |one, routes|
            routes[one] = one.route
          rescue Rules::Mistake
            next # it was checked when it was written; the pages say what is wrong with it
          end
        end

        # What changed before is looked up once, while it can still be found; of many at once, of the first, since
        # people wait to be told.
        def keep_causes(steps)
          ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + CAUSE_SECONDS
          steps.each { |one| keep_cause(one) if Process.clock_gettime(Process::CLOCK_MONOTONIC) < ends }
        end

        def keep_cause(step)
          return unless step.what == "raised" && step.alert && step.alert.cause.nil?

          step.alert.keep_cause
        rescue StandardError => error
          warn "northdrift: what changed before alert #{step.alert_id}: #{error.message.lines.first.to_s.strip}"
        end

        def tell(step, routes)
          alert = step.alert
          occasion = OCCASIONS[step.what]
          return if alert.nil? || occasion.nil? || step.at_us < @clock.call - OLD_US

          return if alert.quiet_id

          about = alert.about
          routes.each do |one, route|
            # It tells of what comes once it is there, however late that is looked at.
            next if step.at_us < one.created_us
            next unless route.tells?(occasion, about, @clock.call)

            occasion == "back" ? plan_back(one, alert, step) : plan(one, route, alert, step)
          end
        end

        def plan(one, route, alert, step)
          return if told_by_another?(one, alert)

          now_us = @clock.call
          due_us = now_us + (route.wait_us || Outlets.gather_us(one.kind))
          one.recipients.each do |recipient|
            Store::AlertDelivery.plan(
              route_id: one.id, recipient: recipient, alert_id: alert.id, step_id: step.id,
              occasion: route.wait_us ? "left" : "raised", due_us: due_us, created_us: now_us
            )
          end
        end

        # One trouble is told once, and again only when it turns out worse.
        def told_by_another?(one, alert)
          others = alert.group.reject { |other| other.id == alert.id || other.severity > alert.severity }
          others.any? && Store::AlertDelivery.where(route_id: one.id, alert_id: others.map(&:id),
                                                    occasion: %w[raised left])
            .where.not(state: "not needed").exists?
        end

        # Who was told of it is told that it is over, once; who was not yet is told neither.
        def plan_back(one, alert, step)
          now_us = @clock.call
          of_it = Store::AlertDelivery.where(route_id: one.id, alert_id: alert.id)
          of_it.waiting.where(attempts: 0, message: nil).update_all(state: "not needed")
          told = of_it.where.not(state: "not needed")
          told.where.not(occasion: "back").distinct.pluck(:recipient).each do |recipient|
            last = told.where(recipient: recipient).order(:id).last
            next if last.occasion == "back"

            Store::AlertDelivery.plan(
              route_id: one.id, recipient: recipient, alert_id: alert.id, step_id: step.id, occasion: "back",
              due_us: now_us + Outlets.gather_us(one.kind), created_us: now_us
            )
          end
        end
      end
    end
  end
end
