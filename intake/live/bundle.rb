# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # What came in within a moment, from all senders, on its way to a reading process.
      # @!attribute groups [Array<Group>]
      # @!attribute rules [Hash] that hold for them, see {Rules::Set}
      Bundle = Struct.new(:groups, :rules) do
        # @return [Integer] bytes of text in it
        def bytesize = groups.sum { |group| group.text.bytesize }
      end
    end
  end
end
