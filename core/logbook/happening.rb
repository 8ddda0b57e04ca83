# frozen_string_literal: true

module Northdrift
  module Logbook
    # Something notable that a line tells.
    # @!attribute rule [String] id of the rule that read it
    # @!attribute kind [String] see {Rule::KINDS}
    # @!attribute severity [Integer]
    # @!attribute says [String] in plain words
    # @!attribute fields [Hash{String=>String}] what the words are made of
    Happening = Struct.new(:rule, :kind, :severity, :machine, :service, :says, :fields)
  end
end
