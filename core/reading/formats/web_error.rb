# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Error logs of web servers, in their two usual forms (common practice; the servers' manuals show both): `[time]
      # [module:level] [pid 1:tid 2] [client 10.0.0.1:80] text` and `time [level] 1#2: *3 text, client: …, server: …`.
      module WebError
        NAME = :web_error
        TITLE = "web server errors"
        WHY = "a time, a level in brackets and the server's process"
        SERVICE = "web-error"
        LEVELS = "emerg|alert|crit|error|warn|notice|info|debug|trace[1-8]"
        WHEN = '[A-Z][a-z]{2} [A-Z][a-z]{2} [ \d]\d \d\d:\d\d:\d\d(?:\.\d+)? \d{4}'
        CLIENT = '\[client ([^\]]+?)(?::(\d+))?\]'
        BRACKETS = /\A\[(#{WHEN})\] \[(?:([\w-]*):)?(#{LEVELS})\](?: \[pid (\d+)(?::tid (\d+))?\])?(?: #{CLIENT})? /
        # An error of the system stands before the client.
        CLIENT_BEHIND = /\G\(\d+\)[^\[\]]+: #{CLIENT} /
        SLASHES = %r{\A(\d{4}/\d\d/\d\d \d\d:\d\d:\d\d) \[(#{LEVELS})\] (\d+)#(\d+): (?:\*(\d+) )?}
        # What the second form adds at its end.
        CONTEXT =
          /, (client|server|request|upstream|host|referrer): (".*?"(?=, (?:upstream|host|referrer): "|\z)|[^,]+)/
        NAMES = {
          "client" => "client.address", "server" => "server.name", "request" => "http.request",
          "upstream" => "upstream.address", "host" => "http.host", "referrer" => "http.request.header.referer"
        }.freeze
        TIME = /\A[A-Z][a-z]{2} ([A-Z][a-z]{2}) ([ \d]\d) (\d\d):(\d\d):(\d\d)(?:\.(\d{1,6}))? (\d{4})\z/

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context) = brackets(line, context) || slashes(line, context)

        def brackets(line, context)
          match = BRACKETS.match(line) or return
          stamp = time(match[1], context.clock) or return
          client = match[6] ? match[6, 2] : CLIENT_BEHIND.match(line, match.end(0))&.captures
          fields = {
            "web.module" => match[2], "process.pid" => match[4], "thread.id" => match[5],
            "client.address" => client&.first, "client.port" => client&.last&.to_i
          }.compact
          event(line, match, stamp, match[3], fields, context)
        end
        private_class_method :brackets

        def slashes(line, context)
          match = SLASHES.match(line) or return
          stamp = Stamp.read(line, context.clock, %i[slashes]) or return
          fields = { "process.pid" => match[3], "thread.id" => match[4], "connection.id" => match[5] }.compact
          line
            .byteslice(match.end(0), line.bytesize)
            .scan(CONTEXT) { |name, value| fields[NAMES[name]] ||= value.delete_prefix('"').delete_suffix('"') }
          event(line, match, stamp, match[2], fields, context)
        end
        private_class_method :slashes

        def event(line, match, stamp, level, fields, context)
          code = Severity.from_word(level.sub(/\d\z/, ""))
          context.event(
            line,
            reader: NAME, stamp: stamp, message: line.byteslice(match.end(0), line.bytesize), service: SERVICE,
            severity: [code, "level word “#{level}”"], fields: fields
          )
        end
        private_class_method :event

        # As asctime() of ISO C, with a fraction that it does not have.
        def time(text, clock)
          match = TIME.match(text) or return
          numbers = match.values_at(2, 3, 4, 5).map(&:to_i)
          civil = [Clock::MONTHS.fetch(match[1], 13), *numbers, match[6].to_s.ljust(6, "0").to_i]
          us = clock.utc(match[7].to_i, civil, nil)
          us && Stamp::Found.new(us, text.bytesize, Stamp::ZONE_INFERRED)
        end
        private_class_method :time
      end
    end
  end
end
