# frozen_string_literal: true

module Northdrift
  module Find
    # Something in a find text that cannot be understood: what, where, and what may have been meant.
    class Mistake < Error
      # @return [Integer] column of the first character concerned, from 1
      attr_reader :column
      # @return [Integer] how many characters are concerned
      attr_reader :length
      # @return [String, nil] a text to put in their place
      attr_reader :suggestion

      def initialize(message, column:, length: 1, suggestion: nil)
        super(message)
        @column = column
        @length = [length, 1].max
        @suggestion = suggestion
      end
    end
  end
end
