# frozen_string_literal: true

module Northdrift
  module Store
    # That somebody has a board at hand.
    class BoardFavourite < Record
      self.table_name = "board_favourites"

      # Whoever is at this computer, where there are no people.
      ALONE = 0

      belongs_to :board, class_name: "Northdrift::Store::Board", inverse_of: :favourites
    end
  end
end
