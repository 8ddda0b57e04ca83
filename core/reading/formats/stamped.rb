# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Any line that starts with a time in one of the usual forms, in brackets or not.
      module Stamped
        NAME = :stamped
        TITLE = "text with a leading time"
        WHY = "starts with a time, and what follows fits no narrower format"

        OPENING = /\A[\[(]/
        CLOSING = /\G[\])]?(?::|,|;| -| \|)?(?: +|\t|\z)/

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          at = OPENING.match?(line) ? 1 : 0
          stamp = Stamp.read(at.zero? ? line : line.byteslice(at, 64), context.clock) or return
          closing = CLOSING.match(line, at + stamp.size) or return
          message = line.byteslice(closing.end(0), line.bytesize)
          context.event(line, reader: NAME, stamp: stamp, message: message, body_at: closing.end(0), fields: Pairs.add(message, {}))
        end
      end
    end
  end
end
