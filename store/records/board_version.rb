# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # What a board was before a change.
    class BoardVersion < Record
      # The oldest beyond these are forgotten.
      MOST = 100

      self.table_name = "board_versions"

      belongs_to :board, class_name: "Northdrift::Store::Board", inverse_of: :versions

      # @return [Boards::Board]
      def shown = Northdrift::Boards::Board.new(Oj.load(definition, mode: :strict))
    end
  end
end
