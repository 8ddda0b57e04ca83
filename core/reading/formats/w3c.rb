# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Extended log files of web servers (W3C Working Draft "Extended Log File Format", 1996): directives that begin
      # with #, and lines whose columns a #Fields directive has named. Times are in UTC.
      module W3c
        NAME = :w3c
        TITLE = "W3C extended log file"
        WHY = "columns that a #Fields directive names"
        DIRECTIVE = /\A#(Version|Fields|Software|Start-Date|End-Date|Date|Remark|Time Format|Log-type): ?/
        # Section "Entries": a blank field is "-"; strings stand in quotes, in which a quote is doubled.
        VALUE = /"((?:[^"]|"")*)"|(\S+)/
        NAMES = {
          "c-ip" => "source.address", "s-ip" => "server.address", "s-port" => "server.port",
          "cs-method" => "http.request.method", "cs-uri" => "url.full", "cs-uri-stem" => "url.path",
          "cs-uri-query" => "url.query", "sc-status" => "http.response.status_code", "cs-username" => "user.name",
          "cs-host" => "server.name", "cs(User-Agent)" => "user_agent.original",
          "cs(Referer)" => "http.request.header.referer", "sc-bytes" => "http.response.size",
          "cs-bytes" => "http.request.size", "s-sitename" => "web.site", "src-ip" => "source.address",
          "dst-ip" => "destination.address", "src-port" => "source.port", "dst-port" => "destination.port"
        }.freeze
        # What an event has a place of its own for.
        APART = %w[date time s-computername].freeze
        WHOLE = /\A-?\d{1,15}\z/
        SERVICE = "web"
        # A column of the host firewall of Windows, whose times are those of its clock (Microsoft, "Interpreting the
        # Windows Firewall log": Time Format: Local).
        FIREWALL = "tcpflags"
        NOTE = [Severity::INFORMATIONAL, "a directive of the file"].freeze
        GONE = "-"
        DATE = "#Date:"
        DAY = /\A(\d\d)-([A-Z][a-z]{2})-(\d{4})/

        module_function

        # @param line [String] bytes of one record
        # @param context [Context] learns the columns from a directive
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          return directive(line, context) if line.start_with?("#")

          header = context.header
          return if header.nil? || header.separator

          values = line.scan(VALUE).map { |quoted, bare| quoted ? quoted.gsub('""', '"') : bare }
          return unless values.size == header.names.size

          entry(line, header.names.zip(values).to_h, context)
        end

        def directive(line, context)
          return unless DIRECTIVE.match?(line)

          context.header = Header.read(line) if line.start_with?(Header::FIELDS)
          context.day = day(line, context.clock) if line.start_with?(DATE)
          context.event(line, reader: NAME, stamp: nil, message: line, severity: NOTE)
        end
        private_class_method :directive

        def entry(line, values, context)
          stamp = stamp(values, context) or return
          status = values["sc-status"].to_i
          fields = values.each_with_object({}) do |(name, value), all|
            next if value == GONE || APART.include?(name)

            all[NAMES[name] || FieldNames.common(name)] = WHOLE.match?(value) ? value.to_i : value
          end
          context.event(
            line,
            reader: NAME, stamp: stamp, message: message(values), machine: values["s-computername"],
            service: values.key?(FIREWALL) ? "firewall" : SERVICE,
            severity: [Severity.from_http_status(status), AccessLog::RULES[status / 100]], fields: fields
          )
        end
        private_class_method :entry

        def stamp(values, context)
          day, time = values.values_at("date", "time")
          return unless (day || context.day) && time

          zone = values.key?(FIREWALL) ? "" : "Z"
          found = Stamp.read("#{day || context.day}T#{time}#{zone}", context.clock)
          found && Stamp::Found.new(found.us, 0, found.inferred)
        end
        private_class_method :stamp

        # "#Date: 12-Jan-1996 00:00:00", as the draft's example has it, or with the month as a number
        def day(line, clock)
          text = line.byteslice(DATE.bytesize, line.bytesize).strip
          named = DAY.match(text)
          text = format("%s-%02d-%s", named[3], Clock::MONTHS.fetch(named[2], 0), named[1]) if named
          text[0, 10] if Stamp.read("#{text[0, 10]}T00:00:00Z", clock)
        end
        private_class_method :day

        # What was asked, and what became of it.
        def message(values)
          [*values.values_at("cs-method", "cs-uri-stem", "cs-uri", "sc-status")].compact
            .reject { |value| value == GONE }
            .join(" ")
            .then { |text| text.empty? ? values.values.join(" ") : text }
            .b
        end
        private_class_method :message
      end
    end
  end
end
