# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Lines whose first letter is their level, with the time behind it: month, day and clock without a year, the
      # thread, and where in the code (glog's line, "[IWEF]yyyymmdd hh:mm:ss.uuuuuu threadid file:line] msg" in its
      # documentation, and without the year, as Kubernetes' components write it); or the time of an access log in
      # brackets (CUPS documentation, error_log).
      module Lettered
        NAME = :lettered
        TITLE = "text with a leading letter for its level"
        WHY = "a letter for the level before the time"

        CODE =
          /\A([DIWEF])(\d{4})?(\d\d)(\d\d) (\d\d):(\d\d):(\d\d)\.(\d{6}) +(\d+) ([^\s:\]]{1,200}):(\d+)\] ?/
        # Tornado documentation, tornado.log.LogFormatter; its users write the year in full, or leave out the day.
        NAMED = /\A\[([DIWEC]) (?=\d)/
        NAMED_FORMS = %i[iso six clock].freeze
        NAME_BEHIND = /\G (?:([A-Za-z_][\w.-]{0,63})(?::(\d{1,6}))?)?\] ?/
        BRACKETS = %r{\A([XACEWNIDd]) \[(\d\d/[A-Z][a-z]{2}/\d{4}:[^\]]{8,24})\] ?}
        LEVELS = {
          "X" => Severity::EMERGENCY, "A" => Severity::ALERT, "C" => Severity::CRITICAL, "F" => Severity::CRITICAL,
          "E" => Severity::ERROR, "W" => Severity::WARNING, "N" => Severity::NOTICE, "I" => Severity::INFORMATIONAL,
          "D" => Severity::DEBUG, "d" => Severity::DEBUG
        }.freeze

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          if (match = CODE.match(line))
            stamp = stamp(match, context.clock) or return
            event(
              line, match, stamp, context,
              { "thread.id" => match[9], "code.file.path" => match[10], "code.line.number" => match[11].to_i }
            )
          elsif (match = BRACKETS.match(line))
            stamp = Stamp.read_access(match[2], context.clock) and event(line, match, stamp, context, {})
          elsif (match = NAMED.match(line))
            named(line, match, context)
          end
        end

        def stamp(match, clock)
          civil = match.values_at(3, 4, 5, 6, 7, 8).map(&:to_i)
          us = match[2] ? clock.utc(match[2].to_i, civil, nil) : clock.utc_without_year(civil)
          us && Stamp::Found.new(us, 0, match[2] ? Stamp::ZONE_INFERRED : Stamp::YEAR_INFERRED)
        end
        private_class_method :stamp

        def named(line, match, context)
          at = match.end(0)
          stamp = Stamp.read(line.byteslice(at, 64), context.clock, NAMED_FORMS) or return
          name = NAME_BEHIND.match(line, at + stamp.size) or return
          fields = { "logger.name" => name[1], "code.line.number" => name[2]&.to_i }.compact
          event(line, match, stamp, context, fields, name.end(0))
        end
        private_class_method :named

        def event(line, match, stamp, context, fields, from = match.end(0))
          message = line.byteslice(from, line.bytesize)
          context.event(
            line,
            reader: NAME, stamp: stamp, message: message,
            severity: [LEVELS.fetch(match[1]), "level letter #{match[1]}"], fields: Pairs.add(message, fields)
          )
        end
        private_class_method :event
      end
    end
  end
end
