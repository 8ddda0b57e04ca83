# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Alerts that another system raises and closes: by a name that it gives the trouble, so that whatever is said
      # twice is so once.
      class OutsideAlerts < Resource
        MOST_KEY = 200
        PARTS = %w[name severity machine says steps tags].freeze

        error(Rules::Mistake) { |mistake| problem(422, "unfit-alert", mistake.message, "parameter" => mistake.part) }

        put "/:key" do
          wanted = carried
          rule = Store::OutsideAlert.rule(wanted.slice(*PARTS))
          known = Store::OutsideAlert.latest(key)
          alert = Store::Database.step { Store::OutsideAlert.raise_one(rule, key, machine(wanted), now_us) }
          status(known&.id == alert.id ? 200 : 201)
          json(Present::Alerts.detail(alert.reload))
        end

        delete "/:key" do
          alert = Store::OutsideAlert.latest(key) or problem(404, "not-found", "there is no such alert")
          unless alert.state == "closed"
            alert.act("close", who: author, now_us: now_us, text: text("remedy"), state: "closed", closed_us: now_us,
                               remedy: text("remedy"))
          end
          json(Present::Alerts.detail(alert))
        end

        private

        def key
          key = checked("key", params["key"])
          return key if key.match?(/\A[^[:cntrl:]]{1,#{MOST_KEY}}\z/o)

          raise BadParameter.new("key", "a key is one line of #{MOST_KEY} characters at most")
        end

        def machine(wanted) = string(wanted, "machine").presence

        def author = who.name || Access::Audit::ALONE
      end
    end
  end
end
