# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # A page of charts that people keep. What is deleted can be had back, and so is what it was before each change.
    class Board < Record
      include Authored
      include Owned

      self.table_name = "boards"

      has_many :versions, -> { order(changed_us: :desc) }, class_name: "Northdrift::Store::BoardVersion",
                                                           inverse_of: :board, dependent: :delete_all
      has_many :favourites, class_name: "Northdrift::Store::BoardFavourite", inverse_of: :board, dependent: :delete_all

      scope :kept, -> { where(deleted_us: nil) }

      # @return [Boards::Board]
      def board = Northdrift::Boards::Board.new(Oj.load(definition, mode: :strict))

      # Changes it, unless somebody else has since it was looked at; what it was before is kept as a version. Called
      # within a transaction.
      # @param board [Boards::Board]
      # @param now_us [Integer]
      # @param since [Integer, nil] when it was changed last, as far as is known; nil changes it in any case
      # @return [Boolean] whether it is changed
      def change(board, now_us, since: nil)
        reload
        return false unless since.nil? || since == changed_us

        keep_version
        # Each change has a moment of its own.
        update!(board: board, changed_us: [now_us, changed_us + 1].max)
      end

      # @param board [Boards::Board]
      def board=(board)
        self.definition = Oj.dump(board.definition, mode: :strict)
      end

      # @return [Boards::Access]
      def access
        lists = [readers, editors].map { |list| Oj.load(list, mode: :strict) }
        Northdrift::Boards::Access.new(readers: lists[0], editors: lists[1], owner: made_by)
      end

      # @param access [Boards::Access]
      def access=(access)
        self.readers, self.editors = access.to_h.values_at("read", "edit").map { |list| Oj.dump(list, mode: :strict) }
      end

      private

      def keep_version
        versions.create!(definition: definition, changed_us: changed_us, changed_by: changed_by || made_by)
        # Loaded with `offset`, which SQLite has only with a limit.
        versions.offset(BoardVersion::MOST).limit(BoardVersion::MOST).destroy_all
      end
    end
  end
end
