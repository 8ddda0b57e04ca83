# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Messages of network devices that number them and mark their clock (common practice; the vendors' manuals show it):
      # `<189>29: *Nov 22 06:09:41.123: %CONFIG-5-CHANGED: text`. A star stands for a clock that was never set, a dot for one
      # that has lost its reference.
      module Device
        NAME = :device
        TITLE = "network device"
        WHY = "a number or a clock mark before the time, and %FACILITY-SEVERITY-MNEMONIC"
        START = /\A(?:<(\d{1,3})>)?(?:(\d{1,10}): )?(?:([A-Za-z][\w.-]{0,254}): )?(?:(\d{1,10}): )?([*.])?(?=[A-Z][a-z]{2} [ \d]\d |\d{4} [A-Z])/
        BODY = /\G(?: [A-Z]{2,5})?: %([A-Z][A-Z0-9_]*(?:-[A-Z0-9_]+)*?)-([0-7])-([A-Z0-9_]+): ?/
        FORMS = %i[bsd].freeze
        # Most lines that begin alike have none: that is told sooner.
        PERCENT = "%"

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          return unless line.include?(PERCENT)

          start = START.match(line) or return
          number = start[2] || start[4]
          return unless number || start[5] || start[3]

          stamp = Stamp.read(line.byteslice(start.end(0), line.bytesize), context.clock, FORMS) or return
          body = BODY.match(line, start.end(0) + stamp.size) or return
          fields = { "event.name" => body[3], "event.sequence" => number&.to_i, "clock.set" => start[5] ? false : nil }.compact
          message = line.byteslice(body.end(0), line.bytesize)
          Pairs.add(message, fields)
          pri = start[1] && Syslog.priority(start[1])
          context.event(line, reader: NAME, stamp: stamp, message: message, machine: start[3], service: body[1], fields: fields, constants: pri ? pri.constants : Context::NO_FIELDS,
                              severity: [body[2].to_i, "severity digit of the message’s mnemonic"])
        end
      end
    end
  end
end
