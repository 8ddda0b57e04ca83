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

      # Changes it, unless somebody else has since it was looked at. Called within a transaction.
      # @param board [Boards::Board]
      # @param now_us [Integer]
      # @param since [Integer, nil] when it was changed last, as far as is known; nil changes it in any case
      # @return [Boolean] whether it is changed
      def change(board, now_us, since: nil)
        reload
        return false unless since.nil? || since == changed_us

        # Each change has a moment of its own.
        update!(board: board, changed_us: [now_us, changed_us + 1].max)
      end

      # @param board [Boards::Board]
      def board=(board)
        self.definition = Oj.dump(board.definition, mode: :strict)
      end
    end
  end
end
