# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Any line that starts with a time in one of the usual forms, in brackets or not, or has it behind what loggers
      # put before it: a level, a number, a program's name, brackets.
      module Stamped
        NAME = :stamped
        TITLE = "text with a leading time"
        WHY = "starts with a time, and what follows fits no narrower format"

        OPENING = /\A[\[(<]/
        # What sets the time off from the rest.
        CLOSING = /\G(?:[\])>]+|(?![\w.]))(?:[ \t]*[:,;|>-]+(?=[\s\[<(]|[A-Z][A-Z])|[|,;])?[ \t]*/
        # Behind what Heading knows, two words may stand before a time: a program's, and what it speaks of. Without a
        # colon or a bar they are a sentence unless a level follows.
        WORDS = %r{\A(?>(?:[A-Za-z_][\w./@%+-]{0,40}|\d[\w:.-]{0,19}) *[:|]? *){0,2}[\[(<]*\z}

        # A clock alone is a record's time behind nothing but that.
        NO_WORDS = /\A[\[(<]*\z/

        # What tells of a signal has no more time than to write the seconds since 1970, in brackets; behind a level they
        # have a fraction.
        SECONDS = %r{\A(?:(?>[\w.:@/-]{1,60}) \((?=\d{10}\) )|[\[<](?:#{Heading::LEVELS})[\]>] {1,8}\[(?=\d{10}\.\d))}

        WORD = %r{\A[A-Za-z][\w./@%+-]*(?= *[:|]? )}
        SENTENCE = /\A(?:\S+ +[^\s:|]+ +|(?:at|on|since|until|from|to|of|by|in|the|is|was) +)[\[(<]*\z/i
        LONGEST = 64
        REACH = 100

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          at = OPENING.match?(line) ? 1 : 0
          stamp = Stamp.read(at.zero? ? line : line.byteslice(at, LONGEST), context.clock)
          closing = stamp && CLOSING.match(line, at + stamp.size)
          return event(line, closing.end(0), stamp, context, nil, body_at: closing.end(0)) if closing

          behind(line, context)
        end

        # What stands before the time stays part of the text: "ERROR 2026-…", "[warn] [2026-…", "WARNING: 2026-…",
        # "937:M 22 Nov 2026 …", "INFO:root:2026-…", "hall-1  | 2026-…"
        def behind(line, context)
          set_off(line, Stamp.find(line, context.clock), WORDS, context) ||
            set_off(line, Stamp.find_short(line, context.clock), NO_WORDS, context) ||
            set_off(line, seconds(line, context.clock), WORDS, context)
        end
        private_class_method :behind

        def seconds(line, clock)
          at = SECONDS.match(line)&.end(0)
          at && [Stamp.read(line.byteslice(at, LONGEST), clock, %i[epoch]), at]
        end
        private_class_method :seconds

        def set_off(line, found, words, context)
          stamp, at = found
          return unless stamp && at < REACH

          before = line.byteslice(0, at)
          parts = Heading.read(before, 0)
          rest = before.byteslice(parts.stop, at)
          return unless words.match?(rest)

          closing = CLOSING.match(line, at + stamp.size) or return
          return if SENTENCE.match?(rest) && Heading.read(line, closing.end(0), parts.dup).level.nil?

          parts.service ||= rest[WORD]
          event(line, closing.end(0), stamp, context, parts)
        end
        private_class_method :set_off

        def event(line, message_at, stamp, context, before, **rest)
          parts = Heading.read(line, message_at, before)
          message = line.byteslice(message_at, line.bytesize)
          program = parts.service && PROGRAM.match(message)
          message = message.byteslice(program.end(0), message.bytesize) if program
          context.event(
            line,
            reader: NAME, stamp: stamp, message: message, machine: parts.machine, service: parts.service,
            severity: Heading.severity(parts), fields: Objects.add(message, Pairs.add(message, parts.fields)), **rest
          )
        end
        private_class_method :event

        # A program and its process, as syslog's files have them.
        PROGRAM = %r{\A[A-Za-z][\w./@%+-]{0,63}\[\d[\d:.-]{0,31}\]:? +}
        private_constant :PROGRAM
      end
    end
  end
end
