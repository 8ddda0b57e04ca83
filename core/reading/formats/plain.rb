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
          context.event(line, reader: NAME, stamp: nil, message: line, fields: Pairs.add(line, {}))
        end
      end
    end
  end
end
