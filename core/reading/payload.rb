# frozen_string_literal: true

module Northdrift
  module Reading
    # What stands inside a message: a JSON object, a line as web servers, proxies and Kubernetes' components write them,
    # or key=value pairs.
    module Payload
      OPEN = "{".ord
      CLOSE = "}".ord
      # Narrow readers of what programs hand on as it would stand in a file of theirs, by the first byte of that.
      REQUESTS = [Formats::AccessLog, Formats::Proxy].freeze
      INNER = {
        **"0123456789:".bytes.to_h { |byte| [byte, REQUESTS] },
        **"IWEFD".bytes.to_h { |byte| [byte, [Formats::Lettered]] }
      }.freeze

      module_function

      # @param message [String] bytes
      # @param fields [Hash] gains the values; those there already stay
      # @param context [Context]
      # @return [Array(String, Array(Integer, String)), nil] the message itself and the severity that is told (or nil)
      #   where the text has them within; nil where the text is the message
      def read(message, fields, context)
        first = message.getbyte(0)
        return object(message, fields) if first == OPEN && message.rstrip.getbyte(-1) == CLOSE

        INNER[first]&.each do |reader|
          event = reader.read(message, context) or next
          keep(event.fields, fields)
          return [event.message, [event.severity, event.severity_rule]]
        end
        Objects.add(message, Pairs.add(message, fields))
        nil
      end

      def object(message, fields)
        object = Json.parse(message)
        return unless object.is_a?(Hash)

        told = Formats::JsonLines.told(object)
        keep(told.fields, fields)
        [told.message.empty? ? message : told.message, told.severity]
      end
      private_class_method :object

      def keep(inner, fields) = inner.each { |name, value| fields[name] = value unless fields.key?(name) }
      private_class_method :keep
    end
  end
end
