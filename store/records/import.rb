# frozen_string_literal: true

module Northdrift
  module Store
    # An upload and what became of it. States: waiting, reading, done, cancelled, failed; leaving and removed when it is
    # taken back.
    class Import < Record
      self.table_name = "imports"
    end
  end
end
