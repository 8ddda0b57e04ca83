# frozen_string_literal: true

module Northdrift
  module Watch
    # An alert as a condition of the find language looks at it.
    # @!attribute name [String] of its rule
    # @!attribute severity [Integer] code
    # @!attribute tags [Array<String>]
    # @!attribute owner [String] a person or a team whose it is; empty for nobody's
    # @!attribute machine [String, nil]
    # @!attribute fields [Hash{String=>Object}] of its key, and those that people say of its machine
    AlertSubject = Struct.new(:name, :severity, :tags, :owner, :machine, :fields, keyword_init: true)

    class AlertSubject
      # @return [Hash{String=>Object}] by name
      def all_fields = fields.merge("host.name" => machine, "owner" => owner.to_s.empty? ? nil : owner).compact

      # @return [Find::Matcher::Subject]
      def subject
        all = all_fields
        Find::Matcher::Subject.new(
          severity, name, machine, all["service.name"], name, -> { name }, -> { all }
        )
      end
    end
  end
end
