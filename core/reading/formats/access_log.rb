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
        # The same as loosely as servers behind others, and those that escape nothing, write it: several addresses of
        # clients, a user's name with blanks, the server's name without a port, quotes within the request.
        LOOSE = /\A(\S[^\["]{4,400}) #{WHEN} "(.*?)" (\d{3}) (\d+|-)(?: #{QUOTED} #{QUOTED})?(.*)\z/m
        CLIENTS = /\A([^\s,]+(?:, *[^\s,]+)*) (\S+) (\S.*)\z/
        NAMED = /\A([A-Za-z][\w.-]*|\[[0-9a-fA-F:.]+\])(?::(\d{1,5}))? (?=[\h:]*[.:][\h.:]* )/
        LOOSELY = '] "'
        REQUEST = /\A([A-Z]+) (\S+)(?: HTTP\/([\d.]+))?\z/
        SERVER = /\A([\w.-]+|\[[0-9a-fA-F:.]+\]):(\d{1,5})\z/
        SERVICE = "web-access"
        RULES = (0..9).map { |digit| "HTTP status class #{digit}xx" }.freeze

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          match = LINE.match(line) or return loose(line, context)
          client, ident, user, fourth, *rest = match.captures
          return event(line, { "client.address" => client }, [ident, user], rest, context) unless fourth

          server = SERVER.match(client) or return loose(line, context)
          who = { "server.address" => server[1], "server.port" => server[2].to_i, "client.address" => ident }
          event(line, who, [user, fourth], rest, context)
        end

        def loose(line, context)
          match = line.include?(LOOSELY) && LOOSE.match(line) or return
          who = match[1]
          server = NAMED.match(who)
          clients = CLIENTS.match(server ? server.post_match : who) or return
          fields = { "server.address" => server && server[1], "server.port" => server && server[2]&.to_i,
                     "client.address" => clients[1] }.compact
          event(line, fields, clients.captures.last(2), match.captures.drop(1), context)
        end
        private_class_method :loose

        # @param fields [Hash] the server and the client
        # @param user [Array(String, String)] identity and user
        # @param rest [Array<String, nil>] time, request, status, size, referring page, client's program, and the rest
        def event(line, fields, user, rest, context)
          ident, user = user
          time, request, status, size, referer, agent, rest = rest
          stamp = Stamp.read_access(time, context.clock) or return
          status = status.to_i
          identify(ident, fields) unless ident == "-"
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

        private_class_method :event

        # Some servers have their own name there.
        def identify(ident, fields)
          server = SERVER.match(ident) or return fields["client.identity"] = ident
          fields["server.address"] ||= server[1]
          fields["server.port"] ||= server[2].to_i
        end
        private_class_method :identify

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
