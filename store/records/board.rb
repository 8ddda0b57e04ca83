# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # A page of charts that people keep. What is deleted can be had back.
    class Board < Record
      include Authored
      include Owned

      self.table_name = "boards"

      scope :kept, -> { where(deleted_us: nil) }

      # @return [Boards::Board]
      def board = Northdrift::Boards::Board.new(Oj.load(definition, mode: :strict))

      # @param board [Boards::Board]
      def board=(board)
        self.definition = Oj.dump(board.definition, mode: :strict)
      end
    end
  end
end
