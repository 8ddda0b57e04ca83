# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # The log of an X display server: seconds since the machine started, and a mark for what kind of message it is
      # (Xorg(1), "LOG FILE"; xserver, os/log.c).
      module XServer
        NAME = :x_server
        TITLE = "X display server"
        WHY = "seconds in brackets, and the mark of a kind of message"

        LINE = /\A\[ {0,6}(\d{1,9}\.\d{3})\] (?:\((--|\*\*|==|\+\+|!!|II|WW|EE|NI|\?\?)\) |(?=\S|\z))/
        LEVELS = {
          "EE" => Severity::ERROR, "WW" => Severity::WARNING, "NI" => Severity::WARNING, "!!" => Severity::NOTICE
        }.freeze

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          match = LINE.match(line) or return
          message = line.byteslice(match.end(0), line.bytesize)
          mark = match[2]
          severity = mark && [LEVELS.fetch(mark, Severity::INFORMATIONAL), "mark (#{mark})"]
          context.event(
            line,
            reader: NAME, stamp: nil, message: message, severity: severity,
            fields: Pairs.add(message, { "kernel.uptime_s" => match[1].to_f })
          )
        end
      end
    end
  end
end
