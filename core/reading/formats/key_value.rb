# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Lines made of `key=value` pairs. Names are understood as in {JsonLines}.
      module KeyValue
        NAME = :key_value
        TITLE = "key=value"
        WHY = "the line starts with key=value pairs and most of it is such pairs"

        START = /\A([A-Za-z_@\x80-\xFF][\w.@\/\x80-\xFF-]{0,63})=(?:"(?>[^"\\]+|\\.)*"|[^\s"=]*)(?:\s+|\z)/n
        PAIRED_SHARE = 0.6
        NUMBER = /\A-?(?:0|[1-9]\d{0,17})\z/

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          return unless START.match?(line)

          pairs, covered = Pairs.measure(line)
          return if pairs.size < 2 || covered < line.bytesize * PAIRED_SHARE

          pairs.each do |key, value|
            pairs[key] = value.to_i if FieldNames.role(key) == :level && NUMBER.match?(value)
          end
          pairs = Csv.with_time(pairs) if Csv::DAYS.any? { |name| pairs.key?(name) }
          JsonLines.build(line, pairs, context, NAME)
        end
      end
    end
  end
end
