# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # What came in within a moment, from all senders, on its way to a reading process.
      # @!attribute groups [Array<Group>]
      # @!attribute rules [String, nil] those that hold for them, see {Bundle.pack}
      Bundle = Struct.new(:groups, :rules) do
        # There may be many rules, and many bundles a second: as text they travel, and are compared, at little cost.
        # @param definition [Hash] see {Store::IntakeRules.definition}
        # @return [String]
        def self.pack(definition) = Marshal.dump(definition)

        # @param rules [String, nil]
        # @return [Hash, nil]
        def self.unpack(rules)
          rules && Marshal.load(rules) # rubocop:disable Security/MarshalLoad -- our own process wrote it
        end

        # @return [Integer] bytes of text in it
        def bytesize = groups.sum { |group| group.text.bytesize }
      end
    end
  end
end
