# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # A line that no reader understands: kept as it is, with the time of its source.
      module Plain
        NAME = :plain
        TITLE = "plain text"
        WHY = "no format was recognised; the text is kept as it stands"

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event]
        def read(line, context)
          # Brackets and numbers that no level stands by are the text's own.
          parts = Heading.read(line, 0)
          fields = Pairs.add(line, parts.level ? parts.fields : {})
          context.event(
            line,
            reader: NAME, stamp: nil, message: line, service: parts.level && parts.service,
            severity: Heading.severity(parts), fields: fields
          )
        end
      end
    end
  end
end
