# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # An entry of the systemd journal as JSON (systemd's "Journal JSON Format"): values are texts, lists of texts
      # where a field comes several times, lists of numbers where they are bytes, and null where they are too large.
      module JournalJson
        NAME = :journal_json
        TITLE = "systemd journal, JSON"
        WHY = "the line is a JSON object with __REALTIME_TIMESTAMP"
        MARK = '"__REALTIME_TIMESTAMP"'

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          return unless line.include?(MARK)

          object = Json.parse(line)
          return unless object.is_a?(Hash) && object.key?("__REALTIME_TIMESTAMP")

          Journal.event(object.transform_values { |value| texts(value) }.compact, line, context, reader: NAME)
        end

        def texts(value)
          value.is_a?(Array) && !value.all?(Integer) ? value.filter_map { |one| text(one) } : text(value)
        end
        private_class_method :texts

        def text(value)
          case value
          when Array then value.grep(0..255).pack("C*")
          when nil then nil
          else value.to_s
          end
        end
        private_class_method :text
      end
    end
  end
end
