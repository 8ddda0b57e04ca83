# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # What load balancers and proxies write of each request: as HAProxy does over HTTP and over TCP (HAProxy
      # Configuration Manual, sections 8.2.3 and 8.2.2), and Squid in its native form (Squid documentation,
      # "Features/LogFormat"). HTTP goes by the names of the OpenTelemetry semantic conventions.
      module Proxy
        NAME = :proxy
        TITLE = "proxy or load balancer"
        WHY =
          "a client, a time in brackets, a frontend and a backend; or a time, a duration, a client and how a cache " \
          "answered"
        SERVICE = "proxy"

        START = /\A(\S+):(\d{1,5}) \[(\d\d\/[A-Z][a-z]{2}\/\d{4}:[\d:.]{8,12})\] (\S+) ([^\s\/]+)\/(\S+) /
        TIME = '(-?\+?\d+)'
        COUNTS = '(\d+)\/(\d+)\/(\d+)\/(\d+)\/\+?(\d+) (\d+)\/(\d+)'
        HTTP = /\G#{[TIME] * 5 * '\/'} (-1|\d{3}) \+?(\d+) (\S+) (\S+) (\S{4}) #{COUNTS}(?: \{[^}]*\}){0,2} "(.*)\z/
        TCP = /\G#{[TIME] * 3 * '\/'} \+?(\d+) (\S\S) #{COUNTS}\s*\z/
        NATIVE = %r{\A(\d{10}\.\d{3}) +(\d+) (\S+) ([A-Z_]+)/(\d{3}) (\d+) (\S+) (\S+) (\S+) ([A-Z_]+)/(\S+) (\S+)}
        # uWSGI documentation, "Formatting uWSGI requests logs", its default
        WORKER =
          %r{\A\[pid:\ (\d+)\|app:\ [^|]*\|req:\ [^\]]*\]\ (\S*)\ \(([^)]*)\)\ \{[^\}]*\}\ \[([A-Z][^\]]{23})\]
             \ (\S+)\ (\S+)\ =>\ generated\ (\d+)\ bytes\ in\ (\d+)\ (msecs|micros)
             (?:\ via\ \w+\(\))?\ \(HTTP/([\d.]+)\ (\d{3})\)}x
        WORKER_NAMES = [
          "process.pid", "client.address", "user.name", nil, "http.request.method", "url.original",
          "http.response.body.size", nil, nil, "network.protocol.version", "http.response.status_code"
        ].freeze
        # Names of what these capture, in order; nil for what is not kept. Durations are in milliseconds.
        HTTP_NAMES = [
          "request_wait_ms", "queue_ms", "connect_ms", "response_ms", "duration_ms", "http.response.status_code",
          "http.response.body.size", nil, nil, "session.state",
          *(
            COUNTED = %w[
              connections.active connections.frontend connections.backend connections.server retries queue.server
              queue.backend
            ].freeze
          )
        ].freeze
        TCP_NAMES = ["queue_ms", "connect_ms", "duration_ms", "network.bytes", "session.state", *COUNTED].freeze
        NATIVE_NAMES = [
          nil, "duration_ms", "client.address", "cache.result", "http.response.status_code", "http.response.body.size",
          "http.request.method", "url.original", "user.name", "upstream.choice", "upstream.address",
          "http.response.content_type"
        ].freeze
        NUMBER = /\A-?\d+\z/
        # Where no answer came at all.
        NONE = "-1"
        REQUEST = /\A([A-Z]+) (\S+)(?: HTTP\/([\d.]+))?/

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          return worker(line, context) if line.start_with?("[pid: ")
          return native(line, context) unless (start = START.match(line))

          stamp = Stamp.read_access(start[3], context.clock) or return
          fields = {
            "client.address" => start[1], "client.port" => start[2].to_i, "proxy.frontend" => start[4],
            "proxy.backend" => start[5], "proxy.server" => start[6]
          }
          if (match = HTTP.match(line, start.end(0)))
            request = match[-1].delete_suffix('"')
            add(fields, HTTP_NAMES, match.captures)
            add(
              fields, %w[http.request.method url.original network.protocol.version], REQUEST.match(request).to_a.drop(1)
            )
            event(line, stamp, request, fields, context)
          elsif (match = TCP.match(line, start.end(0)))
            add(fields, TCP_NAMES, match.captures)
            event(line, stamp, line.byteslice(start.begin(4), line.bytesize), fields, context)
          end
        end

        def native(line, context)
          match = NATIVE.match(line) or return
          stamp = Stamp.read_value(match[1], context.clock) or return
          fields = {}
          add(fields, NATIVE_NAMES, match.captures)
          event(line, stamp, "#{match[7]} #{match[8]}".b, fields, context)
        end
        private_class_method :native

        def worker(line, context)
          match = WORKER.match(line) or return
          stamp = Stamp.read(match[4], context.clock, %i[ctime]) or return
          fields = {}
          add(fields, WORKER_NAMES, match.captures.map { |value| value.empty? ? nil : value })
          fields["duration_ms"] = match[9] == "msecs" ? match[8].to_i : match[8].to_i / 1000.0
          event(line, stamp, "#{match[5]} #{match[6]}".b, fields, context)
        end
        private_class_method :worker

        def add(fields, names, values)
          names.zip(values) do |name, value|
            value = value&.delete_prefix("+")
            next if name.nil? || value.nil? || value == "-" || value == NONE

            fields[name] = NUMBER.match?(value) ? value.to_i : value
          end
        end
        private_class_method :add

        # A session that ended otherwise than by both sides says so with the first of its letters.
        def event(line, stamp, message, fields, context)
          status = fields["http.response.status_code"]
          state = fields["session.state"]
          severity = if status then [Severity.from_http_status(status), AccessLog::RULES[status / 100]]
          elsif state && !state.start_with?("-") then [Severity::WARNING, "session state #{state}"]
          else [Severity::INFORMATIONAL, "session state #{state}"]
          end
          context.event(
            line, reader: NAME, stamp: stamp, message: message, service: SERVICE, severity: severity, fields: fields
          )
        end
        private_class_method :event
      end
    end
  end
end
