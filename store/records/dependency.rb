# frozen_string_literal: true

module Northdrift
  module Store
    # An arrow between two machines, see {Northdrift::Fleet::Dependencies}.
    class Dependency < Record
      self.table_name = "dependencies"
    end
  end
end
