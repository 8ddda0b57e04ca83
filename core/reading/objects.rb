# frozen_string_literal: true

module Northdrift
  module Reading
    # JSON objects (RFC 8259) that stand within a text, as structured loggers put them behind the message.
    module Objects
      OPEN = '{"'
      QUOTE = '"'
      SIGN = /["{}]/
      STRING = /\G"(?>[^"\\]+|\\.)*"/m
      STEPS = { "{" => 1, "}" => -1 }.freeze
      # So much of a text is looked through, and so many objects are taken.
      REACH = 1 << 16
      MOST = 4

      module_function

      # @param text [String] bytes
      # @param fields [Hash] gains the values of the objects, nested ones with dots; those there already stay
      # @return [Hash] fields
      def add(text, fields)
        return fields unless text.include?(OPEN)

        from = 0
        MOST.times do
          start = text.index(OPEN, from)
          stop = start && start < REACH && stop(text, start) or break
          object = Json.parse(text.byteslice(start, stop - start))
          keep(object, fields) if object
          from = stop
        end
        fields
      end

      def keep(object, fields)
        Formats::JsonLines.values(object).each { |name, value| fields[name] = value unless fields.key?(name) }
      end
      private_class_method :keep

      # @return [Integer, nil] just behind the object that starts there
      def stop(text, start)
        depth = 0
        at = start
        while (at = text.index(SIGN, at)) && at < start + REACH
          sign = text[at]
          # What is not closed is looked at once.
          at = sign == QUOTE ? (STRING.match(text, at) || return).end(0) : at + 1
          depth += STEPS.fetch(sign, 0)
          return at if depth.zero?
        end
      end
      private_class_method :stop
    end
  end
end
