# frozen_string_literal: true

module Northdrift
  module Boards
    # What a reader of a board chooses: a value of a field, which all cards are narrowed to.
    # @!attribute name [String] by which links have it
    # @!attribute field [String]
    # @!attribute value [String] that is chosen where nobody chooses; empty: all
    Variable = Struct.new(:name, :field, :value)

    class Variable
      NAME = /\A[a-z][a-z0-9_-]{0,39}\z/
      MOST_FIELD = 200
      MOST_VALUE = 500

      # @param given [Hash{String=>Object}]
      # @return [Variable]
      # @raise [Mistake]
      def self.of(given)
        unless given.is_a?(Hash) && (given.keys - %w[name field value]).empty?
          raise Mistake.new("variables", "a variable has a name, a field and a value")
        end

        name = Card.text(given, "name", most: MOST_FIELD)
        unless name.match?(NAME)
          raise Mistake.new("variables", "the name of a variable has small letters, digits, - and _")
        end

        field = Card.text(given, "field", most: MOST_FIELD).strip
        raise Mistake.new("variables", "the variable “#{name}” is of no field") if field.empty?

        new(name, field, Card.text(given, "value", most: MOST_VALUE))
      end

      # @param chosen [String]
      # @return [String, nil] a find text; nil where all are wanted
      def condition(chosen = value) = (Find::Spelling.equal(field, chosen) unless chosen.empty?)

      # @return [Hash{String=>String}]
      def definition = to_h.transform_keys(&:to_s)
    end
  end
end
