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
      # @return [Array(String, Array(Integer, String))] the message itself, and the severity that a level of the object
      #   tells (or nil)
      def read(message, fields)
        return [Pairs.add(message, fields) && message, nil] unless message.getbyte(0) == OPEN && message.rstrip.getbyte(-1) == CLOSE

        object = Otlp.parse(message)
        return [message, nil] unless object.is_a?(Hash)

        told = Formats::JsonLines.told(object)
        told.fields.each { |name, value| fields[name] ||= value }
        [told.message.empty? ? message : told.message, told.severity]
      end
    end
  end
end
