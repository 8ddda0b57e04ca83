# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # What came in within a moment, from all senders, on its way to a reading process.
      # @!attribute groups [Array<Group>]
      Bundle = Struct.new(:groups) do
        # @return [Integer] bytes of text in it
        def bytesize = groups.sum { |group| group.text.bytesize }
      end
    end
  end
end
