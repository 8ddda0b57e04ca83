# frozen_string_literal: true

module Northdrift
  module Server
    module Cards
      # How long machines were up, of those that the question may be about.
      class Availability < Answer
        NAME = "availability"
        ROUTE = "GET /api/fleet/availability"
        MOST = 60

        def weight(_events) = 0

        private

        def further = [by]

        def by
          by = asked("by") || "site"
          return by if Present::Availability::GROUPS.include?(by)

          raise Northdrift::Boards::Mistake.new(
            "query", "availability is by one of #{Present::Availability::GROUPS.join(', ')}"
          )
        end

        def told
          uptime = Store::Uptime.new(question.from_us, question.to_us, reader.zone)
          Present::Availability.page(uptime, by, most: MOST, only: question.machines)
        end
      end
    end
  end
end
