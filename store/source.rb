# frozen_string_literal: true

module Northdrift
  module Store
    # Where lines came in: a file, a part of an archive, standard input.
    class Source < Record
      self.table_name = "sources"
    end
  end
end
