# frozen_string_literal: true

module Northdrift
  module Reading
    # What stands inside a message: a JSON object, or key=value pairs.
    module Payload
      OPEN = "{".ord
      CLOSE = "}".ord

      module_function

      # @param message [String] bytes
      # @param fields [Hash] gains the values; those there already stay
      # @return [Array(String, Array(Integer, String)), nil] the message itself and the severity that a level tells (or nil) where
      #   the text is an object that has them; nil where the text is the message
      def read(message, fields)
        return Pairs.add(message, fields) && nil unless message.getbyte(0) == OPEN && message.rstrip.getbyte(-1) == CLOSE

        object = Otlp.parse(message)
        return unless object.is_a?(Hash)

        told = Formats::JsonLines.told(object)
        told.fields.each { |name, value| fields[name] ||= value }
        [told.message.empty? ? message : told.message, told.severity]
      end
    end
  end
end
