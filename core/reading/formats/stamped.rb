# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Any line that starts with a time in one of the usual forms, in brackets or not; a level or a number may stand
      # before it.
      module Stamped
        NAME = :stamped
        TITLE = "text with a leading time"
        WHY = "starts with a time, and what follows fits no narrower format"

        OPENING = /\A[\[(]/
        CLOSING = /\G(?:[\])]?(?: ?:|,|;| -| ?\|)?(?: +|\t|\z)|\](?=\[))/
        # "ERROR 2026-…", "[warn] [2026-…", "WARNING: 2026-…", "937:M 22 Nov 2026 …", "[17] 2026-…"
        BEFORE =
          /\A(?:[\[(]?(?i:#{Severity::WORDS.keys.join('|')})[\])]?|[\[(]?\d[\w:.-]{0,19}[\])]?)[:,]? +[\[(]?(?=[\dA-Z])/
        # What may stand behind such a thing is a whole date.
        DATED = (Stamp::FORMS.keys - %i[epoch basic]).freeze

        LONGEST = 64
        # A program and its process, as syslog's files have them, or a process alone that is said to be one.
        PROGRAM = %r{\A(?:([A-Za-z][\w./@%+-]{0,63})\[|\[pid )(\d[\d:.-]{0,31})\]:? +}

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          at = OPENING.match?(line) ? 1 : 0
          stamp = Stamp.read(at.zero? ? line : line.byteslice(at, LONGEST), context.clock) or
            return behind(line, context)
          closing = CLOSING.match(line, at + stamp.size) or return
          event(line, closing.end(0), stamp, context, body_at: closing.end(0))
        end

        # What stands before the time stays part of the text.
        def behind(line, context)
          before = BEFORE.match(line) or return
          stamp = Stamp.read(line.byteslice(before.end(0), LONGEST), context.clock, DATED) or return
          closing = CLOSING.match(line, before.end(0) + stamp.size) or return
          event(line, closing.end(0), stamp, context, severity: SeverityWords.read(line))
        end
        private_class_method :behind

        def event(line, message_at, stamp, context, **rest)
          message = line.byteslice(message_at, line.bytesize)
          fields = {}
          if (program = PROGRAM.match(message))
            message = message.byteslice(program.end(0), message.bytesize)
            fields["process.pid"] = program[2]
          end
          context.event(
            line,
            reader: NAME, stamp: stamp, message: message, service: program && program[1],
            fields: Pairs.add(message, fields), **rest
          )
        end
        private_class_method :event
      end
    end
  end
end
