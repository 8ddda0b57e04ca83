# frozen_string_literal: true

module Northdrift
  module Store
    # A saved set of machines, services and conditions, as a find text.
    class Scope < Record
      include Authored

      self.table_name = "scopes"
    end
  end
end
