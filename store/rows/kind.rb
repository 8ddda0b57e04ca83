# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # What all lines of one kind share: the machine and service that spoke, the reader, the names and types of the
    # fields, and whatever else is the same for many lines (values told by a code, what was inferred). An event keeps
    # only its kind's number; a condition on any of these is one on a small set of kinds.
    class Kind
      # Types of a field's values, by the letter in the layout.
      TYPES = { "s" => :to_s, "i" => :to_i, "f" => :to_f, "b" => nil }.freeze

      # @return [Integer]
      attr_reader :id
      # @return [String, nil]
      attr_reader :machine, :service
      # @return [Symbol]
      attr_reader :reader
      # @return [Array<Array(String, String)>] names and types of the fields, in the order of the event's spans
      attr_reader :layout
      # @return [Hash] "stamped", "inferred", "ending", "note", "constants", and "nul" where the text has NUL bytes
      attr_reader :traits

      def initialize(id, machine, service, reader, layout, traits)
        @id = id
        @machine = machine
        @service = service
        @reader = reader.to_sym
        @layout = layout
        @traits = traits
        @index = layout.each_with_index.to_h { |(name, _), index| [name, index] }
      end

      # @return [Integer, nil] place of a field in the layout
      def index(field) = @index[field]

      # @return [Hash{String=>Object}] fields that are the same for all lines of the kind; those of its machine may have
      #   several values
      def constants
        @constants ||= { "host.name" => machine, "service.name" => service, "reader" => reader.to_s }.compact.merge(
          @fleet || {}, traits["constants"] || {}
        )
      end

      # @return [Hash{String=>String,Array<String>}] what people say of its machine
      attr_reader :fleet

      # @param fleet [Fleet] what people say of the machines by now
      # @return [Kind] the same with what is said of its machine
      def with(fleet) = dup.tap { |kind| kind.fleet = fleet.fields(machine) }

      # @return [Boolean]
      def field?(name) = @index.key?(name) || constants.key?(name)

      # @return [Array<String>] names of all fields
      def fields = @index.keys + constants.keys

      protected

      def fleet=(fields)
        @fleet = fields
        @constants = nil
      end
    end
  end
end
