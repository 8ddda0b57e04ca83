# frozen_string_literal: true

module Northdrift
  module Server
    module Present
      # What is muted and what is planned.
      module Quiets
        module_function

        # Who does not see everything is not told of which machines it is besides.
        # @param one [Store::Quiet]
        def quiet(one)
          one.find = "" if Store::Sight.current
          one.attributes.slice("id", "kind", "find", "from_us", "until_us", "why", "rule_id", "lasts_us", "says")
            .merge("entries" => one.kinds, "hours" => one.given_hours, **one.authors)
        end
      end
    end
  end
end
