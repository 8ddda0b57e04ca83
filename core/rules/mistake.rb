# frozen_string_literal: true

module Northdrift
  module Rules
    # The definition of a rule will not do. Its message is for the person who wrote it.
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
