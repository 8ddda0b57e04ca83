# frozen_string_literal: true

module Northdrift
  module Store
    # That somebody is in a team.
    class Membership < Record
      self.table_name = "memberships"

      belongs_to :team
      belongs_to :person
    end
  end
end
