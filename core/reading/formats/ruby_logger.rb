# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # What Ruby's Logger writes unless told otherwise (Ruby documentation, Logger::Formatter): the severity's first
      # letter, time and process in brackets, the severity, the program's name, the message.
      module RubyLogger
        NAME = :ruby_logger
        TITLE = "Ruby’s Logger"
        WHY = "a letter, the time and process in brackets, a severity and a program’s name"
        WHEN = '(\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{6})'
        LEVELS = "DEBUG|INFO|WARN|ERROR|FATAL|ANY"
        FORM = /\A[DIWEFA], \[#{WHEN} #(\d+)\] +(#{LEVELS}) -- ([^:]*): /

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          match = FORM.match(line) or return
          stamp = Stamp.read(match[1], context.clock) or return
          level = match[3]
          context.event(
            line,
            reader: NAME, stamp: stamp, message: line.byteslice(match.end(0), line.bytesize), service: match[4],
            severity: [Severity.from_word(level) || Severity::UNSET, "level word “#{level}”"],
            fields: Pairs.add(match.post_match, { "process.pid" => match[2] })
          )
        end
      end
    end
  end
end
