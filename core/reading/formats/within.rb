# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Text that has a time somewhere near its start, as sentences and banners have: "Started GET / at 2026-…". Such a
      # line may also go on with the record before it; {Records} decides.
      module Within
        NAME = :within
        TITLE = "text with a time in it"
        WHY = "a date and time near the start, in the midst of text"

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          stamp, = Stamp.find(line, context.clock)
          stamp && context.event(line, reader: NAME, stamp: stamp, message: line, fields: Pairs.add(line, {}))
        end
      end
    end
  end
end
