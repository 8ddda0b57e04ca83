# frozen_string_literal: true

module Northdrift
  module Boards
    # A board or a card will not do. Its message is for the person who made it.
    Mistake = Class.new(Rules::Mistake)
  end
end
