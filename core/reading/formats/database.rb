# frozen_string_literal: true

require "csv"

module Northdrift
  module Reading
    module Formats
      # What database servers write. As text: a time, the process, sometimes user and database, a level in capitals and
      # two blanks; what belongs to a message (DETAIL, HINT, STATEMENT …) comes as further lines of the same process,
      # and is joined to it. As separated values without a header, whose columns are fixed. And a time, a thread and a
      # level in brackets. (PostgreSQL documentation, "Error Reporting and Logging", table "csvlog"; MySQL Reference
      # Manual, "Error Log Output Format".)
      module Database
        NAME = :database
        TITLE = "database server"
        WHY = "a time, a process and a level of a database server"
        SERVICE = "database"
        FORMS = %i[iso].freeze
        LEVELS = {
          "LOG" => Severity::INFORMATIONAL, "INFO" => Severity::INFORMATIONAL, "NOTICE" => Severity::NOTICE,
          "WARNING" => Severity::WARNING, "ERROR" => Severity::ERROR, "FATAL" => Severity::CRITICAL,
          "PANIC" => Severity::ALERT, **(1..5).to_h { |number| ["DEBUG#{number}", Severity::DEBUG] }
        }.freeze
        PARTS = {
          "DETAIL" => "db.detail", "HINT" => "db.hint", "STATEMENT" => "db.query.text", "CONTEXT" => "db.context",
          "QUERY" => "db.query.internal", "LOCATION" => "db.location"
        }.freeze
        KEYWORD = [*LEVELS.keys, *PARTS.keys].join("|")
        TEXT = /\G (?:[A-Z]{2,5} )?\[(\d+)\](?:-\d+| \[\d+-\d+\])?:?(?: (?:([^\s@]*)@([^\s@]+)))? (#{KEYWORD}):  /
        DURATION = /\Aduration: (\d+(?:\.\d+)?) ms/
        BRACKETS = /\G (\d+) \[(Note|Warning|ERROR|System|Entry)\] (?:\[(MY-\d+)\] \[(\w+)\] )?/
        THREADS = {
          "Note" => Severity::NOTICE, "System" => Severity::NOTICE, "Entry" => Severity::NOTICE,
          "Warning" => Severity::WARNING, "ERROR" => Severity::ERROR
        }.freeze
        # Names of the fixed columns that become fields, by their place from 0.
        COLUMNS = {
          1 => "user.name", 2 => "db.namespace", 3 => "process.pid", 4 => "source.address", 5 => "session.id",
          7 => "db.operation.name", 10 => "db.transaction.id", 12 => "db.response.status_code", 14 => "db.detail",
          15 => "db.hint", 18 => "db.context", 19 => "db.query.text", 22 => "service.instance"
        }.freeze
        LEVEL_COLUMN = 11
        MESSAGE_COLUMN = 13
        COUNTS = (23..30)
        SEPARATED = /\A\d{4}-\d\d-\d\d \d\d:\d\d:\d\d\.\d{3} [A-Z]{2,5},/
        # Within what belongs together (the server writes it at once).
        TOGETHER_US = 1_000_000

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          return separated(line, context) if SEPARATED.match?(line)

          stamp = Stamp.read(line, context.clock, FORMS) or return
          at = stamp.size
          # The zone's name may be part of the stamp.
          if (match = TEXT.match(line, at)) then text(line, match, stamp, context)
          elsif (match = BRACKETS.match(line, at)) then brackets(line, match, stamp, context)
          end
        end

        # @param text [String]
        # @return [Boolean] whether a quoted value goes on with the next line
        def unfinished?(text) = SEPARATED.match?(text) && text.count('"').odd?

        # @param line [String] a further one
        # @return [Boolean] whether the value ends with it
        def finishes?(line) = line.count('"').odd?

        # @param before [Event]
        # @param event [Event] of the next line
        # @return [Boolean] whether the line belongs to the message before it
        def joins?(before, event)
          event.fields.key?("db.part") && event.fields["process.pid"] == before.fields["process.pid"] &&
            event.time_us - before.time_us < TOGETHER_US
        end

        # @param before [Event] gains what the next line tells
        def join(before, event)
          before.fields = before.fields.merge(PARTS.fetch(event.fields["db.part"]) => event.message)
        end

        # @param event [Event]
        # @return [String, nil] its last part, to which further lines are added
        def tail(event)
          name, value = event.fields.to_a.last
          return unless PARTS.value?(name) && event.raw.end_with?(value)

          value.dup.tap { |own| event.fields = event.fields.merge(name => own) }
        end

        def text(line, match, stamp, context)
          message = line.byteslice(match.end(0), line.bytesize)
          level = match[4]
          fields = { "process.pid" => match[1], "user.name" => match[2], "db.namespace" => match[3] }
          fields = fields.reject { |_, value| value.nil? || value.empty? }
          fields["db.part"] = level if PARTS.key?(level)
          duration = message[DURATION, 1]
          fields["duration_ms"] = duration.to_f if duration
          event(line, stamp, message, [LEVELS.fetch(level, Severity::INFORMATIONAL), level], fields, context)
        end
        private_class_method :text

        def brackets(line, match, stamp, context)
          fields = { "thread.id" => match[1], "event.code" => match[3], "db.subsystem" => match[4] }.compact
          message = line.byteslice(match.end(0), line.bytesize)
          event(line, stamp, message, [THREADS.fetch(match[2]), match[2]], fields, context)
        end
        private_class_method :brackets

        def separated(line, context)
          stamp = Stamp.read(line, context.clock, FORMS) or return
          return context.event(line, reader: NAME, stamp: stamp, message: line, service: SERVICE) if unfinished?(line)

          cells = CSV.parse_line(line)
          level = cells[LEVEL_COLUMN]
          return unless COUNTS.cover?(cells.size) && LEVELS.key?(level)

          fields =
            COLUMNS.each_with_object({}) { |(at, name), all| all[name] = cells[at].b unless cells[at].to_s.empty? }
          event(line, stamp, cells[MESSAGE_COLUMN].to_s.b, [LEVELS.fetch(level), level], fields, context)
        rescue CSV::MalformedCSVError
          nil
        end
        private_class_method :separated

        # @param severity [Array(Integer, String)] code, and the word for it
        def event(line, stamp, message, severity, fields, context)
          code, level = severity
          context.event(
            line,
            reader: NAME, stamp: stamp, message: message, service: SERVICE, severity: [code, "level word “#{level}”"],
            fields: fields
          )
        end
        private_class_method :event
      end
    end
  end
end
