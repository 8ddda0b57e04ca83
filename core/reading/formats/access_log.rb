# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # The Common Log Format of web servers, and Combined, which adds the referring page and the client's program; with
      # the server's name and port before it where several servers write one file. Fields follow the OpenTelemetry
      # semantic conventions for HTTP.
      module AccessLog
        NAME = :access_log
        TITLE = "web access log"
        WHY = "client, user, [time], \"request\", status and size as in the Common Log Format"

        QUOTED = '"((?>[^"\\\\]+|\\\\.)*)"'
        WHEN = '\[(\d\d/[A-Z][a-z]{2}/\d{4}[: ][^\]]{8,24})\]'
        LINE = /\A(\S+) (\S+) (\S+) (?:([^\s\[]\S*) )?#{WHEN} #{QUOTED} (\d{3}) (\d+|-)(?: #{QUOTED} #{QUOTED})?(.*)\z/m
        REQUEST = /\A([A-Z]+) (\S+)(?: HTTP\/([\d.]+))?\z/
        SERVER = /\A([\w.-]+|\[[0-9a-fA-F:.]+\]):(\d{1,5})\z/
        SERVICE = "web-access"
        RULES = (0..9).map { |digit| "HTTP status class #{digit}xx" }.freeze

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          match = LINE.match(line) or return
          client, ident, user, fourth, time, request, status, size, referer, agent, rest = match.captures
          server = nil
          if fourth
            server = SERVER.match(client) or return
            client = ident
            ident = user
            user = fourth
          end
          clock = context.clock
          stamp = Stamp.read_access(time, clock) or return
          status = status.to_i
          fields =
            if server
              { "server.address" => server[1], "server.port" => server[2].to_i, "client.address" => client }
            else
              { "client.address" => client }
            end
          fields["client.identity"] = ident unless ident == "-"
          fields["user.name"] = user unless user == "-"
          request_fields(request, fields)
          fields["http.response.status_code"] = status
          fields["http.response.body.size"] = size.to_i unless size == "-"
          fields["http.request.header.referer"] = referer unless referer.nil? || referer == "-"
          fields["user_agent.original"] = agent unless agent.nil? || agent == "-"
          Pairs.add(rest, fields) unless rest.empty?
          context.event(line, reader: NAME, stamp: stamp, message: request, service: SERVICE, fields: fields,
                              severity: [Severity.from_http_status(status), RULES[status / 100]])
        end

        def request_fields(request, fields)
          match = REQUEST.match(request) or return
          fields["http.request.method"] = match[1]
          fields["url.original"] = match[2]
          fields["network.protocol.version"] = match[3] if match[3]
        end
        private_class_method :request_fields
      end
    end
  end
end
