# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Messages of network devices that number them and mark their clock (common practice; the vendors' manuals show
      # it): `<189>29: *Nov 22 06:09:41.123: %CONFIG-5-CHANGED: text`. A star stands for a clock that was never set, a
      # dot for one that has lost its reference.
      module Device
        NAME = :device
        TITLE = "network device"
        WHY = "a device’s number, clock mark or time, and %FACILITY-SEVERITY-MNEMONIC"
        # What a relay put before it: its own stamp, and the device's name or address.
        RELAYED = '(?:[A-Z][a-z]{2} [ \d]\d \d\d:\d\d:\d\d (?<relayed>[\w.:-]{1,255}) (?:: )?(?=\d{1,10}: ))?'
        HOST = '(?<host>[A-Za-z][\w.-]{0,254})'
        # Of a router of many parts: which of them speaks.
        NODE = '(?:(?<node>[A-Z]{1,3}/\w{1,8}/\w{1,8}(?:/\w{1,8})?):)?'
        BEFORE = "(?:<(?<pri>\\d{1,3})>)?(?:: )?#{RELAYED}(?:(?<first>\\d{1,10}): )?".freeze
        CLOCK_AHEAD = '(?=[A-Z][a-z]{2} [ \d]\d |\d)'
        START = /\A#{BEFORE}(?:#{HOST}: )?(?:(?<number>\d{1,10}): )?#{NODE}(?<mark>[*.])?#{CLOCK_AHEAD}/
        MNEMONIC = "%(?<facility>[A-Z][A-Z0-9_]*(?:-[A-Z0-9_]+)*?)-(?<severity>[0-7])-(?<mnemonic>[A-Z0-9_]+)"
        # The host may stand behind the time; a zone that we do not know is none. A virtual device or the process that
        # speaks may stand before the message's name.
        SPEAKER = '(?:%\\$ \S+ %\\$ |(?<process>[a-z][\w.-]{0,63})\[(?<pid>\d{1,10})\]: )?'
        BODY = /\G(?: #{HOST} ?)?: #{SPEAKER}#{MNEMONIC} ?: ?/
        # Where the year comes first there is no colon either.
        BODY_OF_YEAR = /\G #{HOST} #{SPEAKER}#{MNEMONIC} ?: ?/
        YEAR_AHEAD = /\G\d{4} /
        ZONE = /\A[A-Z]{2,5}\z/
        # The time since it started, of a device that does not know the time of day: 00:00:46, 3w2d.
        UPTIME = /\A(?:\d{2,}:\d\d:\d\d|\d+[ywdh]\d+[wdhm])(?=: %)/
        FORMS = %i[device device_year].freeze
        # Most lines that begin alike have none: that is told sooner.
        PERCENT = "%"

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          return unless line.include?(PERCENT)

          start = START.match(line) or return
          text = line.byteslice(start.end(0), line.bytesize)
          stamp = Stamp.read(text, context.clock, FORMS, remember: false)
          size = stamp ? stamp.size : UPTIME.match(text)&.end(0) or return
          body = BODY.match(line, start.end(0) + size) || of_year(line, start.end(0), size) or return
          host = start[:relayed] || start[:host] || (body[:host] unless ZONE.match?(body[:host].to_s))
          event(line, start, stamp, body, host, context)
        end

        def of_year(line, at, size) = YEAR_AHEAD.match?(line, at) && BODY_OF_YEAR.match(line, at + size)
        private_class_method :of_year

        def event(line, start, stamp, body, host, context)
          number = start[:first] || start[:number]
          fields = {
            "event.name" => body[:mnemonic], "event.sequence" => number&.to_i,
            "clock.set" => start[:mark] ? false : nil, "device.part" => start[:node],
            "process.executable.name" => body[:process], "process.pid" => body[:pid]
          }.compact
          message = line.byteslice(body.end(0), line.bytesize)
          Pairs.add(message, fields)
          pri = start[:pri] && Syslog.priority(start[:pri])
          context.event(
            line,
            reader: NAME, stamp: stamp, message: message, machine: host, service: body[:facility], fields: fields,
            constants: pri ? pri.constants : Context::NO_FIELDS,
            severity: [body[:severity].to_i, "severity digit of the message’s mnemonic"]
          )
        end
        private_class_method :event
      end
    end
  end
end
