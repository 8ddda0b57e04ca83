# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # The line formats of container runtimes: time, stream, F for a whole line or P for a part of one, and what the
      # program wrote (Kubernetes' CRI logging format); or an object with that, its line feed, stream and time (Docker
      # documentation, "JSON File logging driver").
      module Container
        NAME = :container
        TITLE = "container runtime"
        WHY = "a time, stdout or stderr, and F or P; or these in an object with a log"
        OBJECT = '{"log":"'
        OBJECT_KEYS = %w[log stream time].freeze
        FEED = /\r?\n\z/
        LINE = /\A(\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{1,9}(?:Z|[+-]\d\d:\d\d)) (stdout|stderr) ([FP])(?::\S*)? /

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          return object(line, context) if line.start_with?(OBJECT)

          match = LINE.match(line) or return
          stamp = Stamp.read_value(match[1], context.clock) or return
          fields = { "log.iostream" => match[2] }
          fields["log.partial"] = true if match[3] == "P"
          event(line, line.byteslice(match.end(0), line.bytesize), fields, stamp, match.end(1) + 1, context)
        end

        def object(line, context)
          object = Json.parse(line)
          return unless object.is_a?(Hash) && object.values_at(*OBJECT_KEYS).all?(String)

          text, stream, time = object.values_at(*OBJECT_KEYS).map(&:b)
          stamp = Stamp.read_value(time, context.clock) or return
          fields = { "log.iostream" => stream }
          fields["log.partial"] = true unless FEED.match?(text)
          Array(object["attrs"]).each { |name, value| fields[FieldNames.common(name.b)] = value.to_s.b }
          event(line, text.sub(FEED, ""), fields, stamp, 0, context)
        end
        private_class_method :object

        def event(line, message, fields, stamp, body_at, context)
          inner, level = Payload.read(message, fields, context)
          context.event(
            line,
            reader: NAME, stamp: stamp, message: inner || message, body_at: body_at, severity: level, fields: fields
          )
        end
        private_class_method :event

        # @param before [Event]
        # @return [Boolean] whether the line goes on with the one before it
        def joins?(before, event)
          before.fields["log.partial"] == true && before.fields["log.iostream"] == event.fields["log.iostream"]
        end

        # @param before [Event] gains the rest of its line
        def join(before, event)
          before.message = before.message.dup if before.message.frozen?
          before.message << event.message
          before.fields = before.fields.except("log.partial").merge(event.fields.slice("log.partial"))
        end
      end
    end
  end
end
