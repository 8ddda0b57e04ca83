# frozen_string_literal: true

module Northdrift
  module Find
    # Fields, values and conditions as a find text has them.
    module Spelling
      PLAIN = /\A[A-Za-z_][\w.-]*\w\z/
      RESERVED = /\A(?:and|or|not|has|in)\z/i

      module_function

      # @param name [String]
      # @return [String]
      def field(name) = name.match?(PLAIN) && !name.match?(RESERVED) ? name : value(name)

      # @param text [String]
      # @return [String]
      def value(text) = "\"#{text.gsub(/["\\]/) { |sign| "\\#{sign}" }}\""

      # @param name [String] of a field
      # @param text [String]
      # @return [String] that the field is this
      def equal(name, text) = "#{field(name)} = #{value(text)}"
    end
  end
end
