# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Who did what.
      class Audit < Resource
        ENTRIES = 100
        MOST_ENTRIES = 1000

        get "/" do
          limit = integer("limit", 1..MOST_ENTRIES, ENTRIES)
          found = Store::AuditTrail.latest(limit + 1, before: integer("before", 1..(1 << 53), nil))
          json("entries" => found.first(limit).map { |entry| present(entry) }, "more" => found.size > limit)
        end

        # Whether it is as it was written.
        get "/check" do
          entries, broken = Store::AuditTrail.verify
          json("entries" => entries, "broken" => broken)
        end

        private

        def present(entry)
          {
            "id" => entry.id, "at_us" => entry.at_us, "who" => entry.who, "address" => entry.address,
            "action" => entry.action, "says" => entry.says,
            "target" => entry.target, "outcome" => entry.outcome, "changes" => entry.changed
          }
        end
      end
    end
  end
end
