# frozen_string_literal: true

module Northdrift
  module Logbook
    # Something notable that a line tells.
    # @!attribute rule [String] id of the rule that read it
    # @!attribute kind [String] see {Rule::KINDS}
    # @!attribute severity [Integer]
    # @!attribute says [String] in plain words
    # @!attribute fields [Hash{String=>String}] what the words are made of, and what else the rule took
    # @!attribute person [String, nil] who did it
    # @!attribute operation [String, nil] id of the operation that it is a part of
    # @!attribute phase [String, nil] of that operation: request or outcome
    Happening = Struct.new(:rule, :kind, :severity, :machine, :service, :says, :fields, :person, :operation, :phase)
  end
end
