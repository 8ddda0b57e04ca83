# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # The line format of container runtimes (Kubernetes' CRI logging format): time, stream, F for a whole line or P
      # for a part of one, and what the program wrote.
      module Container
        NAME = :container
        TITLE = "container runtime"
        WHY = "a time, stdout or stderr, and F or P"
        LINE = /\A(\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{1,9}(?:Z|[+-]\d\d:\d\d)) (stdout|stderr) ([FP])(?::\S*)? /

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          match = LINE.match(line) or return
          stamp = Stamp.read_value(match[1], context.clock) or return
          fields = { "log.iostream" => match[2] }
          fields["log.partial"] = true if match[3] == "P"
          message = line.byteslice(match.end(0), line.bytesize)
          inner, level = Payload.read(message, fields, context)
          context.event(
            line,
            reader: NAME, stamp: stamp, message: inner || message, body_at: match.end(1) + 1, severity: level,
            fields: fields
          )
        end

        # @param before [Event]
        # @return [Boolean] whether the line goes on with the one before it
        def joins?(before, event)
          before.fields["log.partial"] == true && before.fields["log.iostream"] == event.fields["log.iostream"]
        end

        # @param before [Event] gains the rest of its line
        def join(before, event)
          before.message = before.message + event.message
          before.fields = before.fields.except("log.partial").merge(event.fields.slice("log.partial"))
        end
      end
    end
  end
end
