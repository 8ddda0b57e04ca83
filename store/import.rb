# frozen_string_literal: true

module Northdrift
  module Store
    # An upload and what became of it. States: waiting, reading, done, cancelled, failed.
    class Import < Record
      self.table_name = "imports"
    end
  end
end
