# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What is unusual without a rule for it, and what people say of it.
      class Oddities < Resource
        MOST = 500
        MOST_WHY = 1000
        ALL = "all"

        # The most urgent first, with counts of all states in the window.
        get "/" do
          within = in_window(Store::Oddity.where("priority >= ?", integer("priority", 0..100, LISTED)))
          state = text("state").then { |given| given.empty? ? "open" : given }
          shown = state == ALL ? within : within.where(state: known(state))
          json(
            "oddities" => shown.order(priority: :desc, last_us: :desc).limit(MOST)
              .map { |one| Present::Oddities.oddity(one) },
            "total" => shown.count,
            "counts" => Store::Oddity::STATES.to_h { |name| [name, within.where(state: name).count] },
            "less" => in_window(Store::Oddity.where(state: "open")).count - within.where(state: "open").count,
            "baseline_days" => Northdrift::Unusual::Baseline::FEWEST_DAYS,
            "normal_days" => Store::PageSettings.current.normal_days,
            "left_out" => Store::Source.where(unusual: false).order(:name).limit(MOST)
              .map { |one| Present::Oddities.source(one) },
            "judged_us" => Store::OddityNoticing.judged_us
          )
        end
        LISTED = Northdrift::Unusual::Priority::LISTED

        get "/:id" do
          json(Present::Oddities.detail(Store::Oddity.find(params["id"])))
        end

        # Says what it is: open, muted until some time, or normal.
        put "/:id/state" do
          wanted = carried
          one = Store::Oddity.find(params["id"])
          state = known(required(wanted, "state"))
          one.update!(
            state: state, until_us: state == "muted" ? until_us(wanted) : nil, changed_us: now_us,
            why: string(wanted, "why")[0, MOST_WHY], changed_by: who.name || Access::Audit::ALONE
          )
          json(Present::Oddities.oddity(one))
        end

        private

        def known(state)
          return state if Store::Oddity::STATES.include?(state)

          raise BadParameter.new("state", "a state is one of #{Store::Oddity::STATES.join(', ')}")
        end

        def until_us(wanted)
          value = wanted["until_us"]
          return value if value.nil? || (value.is_a?(Integer) && value > now_us)

          raise BadParameter.new("until_us", "until when is a time to come, in microseconds")
        end
      end
    end
  end
end
