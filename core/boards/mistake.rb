# frozen_string_literal: true

module Northdrift
  module Boards
    # A board or a card will not do. Its message is for the person who made it.
    class Mistake < Error
      # @return [String] what of it, by the name that the definition has for it
      attr_reader :part

      def initialize(part, message)
        super(message)
        @part = part
      end
    end
  end
end
