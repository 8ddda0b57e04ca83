# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # What a database server was asked (MariaDB documentation, "General Query Log" and "Slow Query Log Overview";
      # MySQL Reference Manual, sections of the same names). Of all statements, a line each: time, connection, command
      # and text; a line of the same second may leave its time out. Of slow ones, a head of several lines that start
      # with a number sign, and the statement below it; its time may be left out too.
      module Statements
        NAME = :statements
        TITLE = "statements of a database server"
        WHY = "a time, a connection and a command; or the head of a slow statement"
        SERVICE = Database::SERVICE
        FORMS = %i[iso six].freeze

        COMMAND = /\G\t *(\d+) ([A-Z][A-Za-z]*(?: [A-Za-z]+)?)(?:\t|\z)/
        # Commands whose text is a statement, which speaks for itself.
        SAYING = %w[Query Execute Prepare].freeze
        # The same without a time.
        FURTHER = /\A\t(?=\t *\d+ [A-Z])/
        STARTED = "started with:"
        TIME = "# Time: "
        USER = /\A# User@Host: (\S*?)(?:\[[^\]]*\])? @ (\S*) ?\[([^\]]*)\]/
        DETAILS = /(\w+): +(\S+)/
        DETAIL_NAMES = {
          "Thread_id" => "connection.id", "Id" => "connection.id", "Schema" => "db.namespace",
          "Query_time" => "duration_ms", "Lock_time" => "lock_ms", "Rows_sent" => "db.response.returned_rows"
        }.freeze
        WHOLE = /\A\d+\z/
        DATABASE = /\Ause `?([^`;]+)`?;\z/i
        MOMENT = /\ASET timestamp=(\d{10})(?:\.(\d{1,6}))?;\z/
        SLOW = [Severity::NOTICE, "slow by the server’s own measure"].freeze
        ORDINARY = [Severity::INFORMATIONAL, "a statement"].freeze
        TIME_INFERRED = %i[time].freeze
        MOST_FIELDS = 100

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          if line.start_with?("# ")
            slow(line, context)
          elsif line.end_with?(STARTED) && line.include?(", Version: ")
            context.event(
              line, reader: NAME, stamp: moment(context), message: line, service: SERVICE, severity: ORDINARY
            )
          else
            stamp = Stamp.read(line, context.clock, FORMS) or return
            command(line, stamp.size, stamp, context)
          end
        end

        # @param before [Event]
        # @param text [String] an indented line behind it
        # @return [Event, nil] nil where it belongs to the statement before it
        def further(before, text, context)
          blank = FURTHER.match(text) or return
          command(text, blank.end(0), Stamp::Found.new(before.time_us, 0, before.inferred), context)
        end

        # @return [Boolean] whether the line goes on with the head of a slow statement
        def joins?(before, event)
          before.raw.start_with?(TIME) && !before.fields.key?("user.name") && event.raw.start_with?("# User@Host")
        end

        # @param before [Event] gains who asked
        def join(before, event)
          before.fields = event.fields
        end

        # @param event [Event]
        # @param text [String] a line behind it
        # @return [Boolean] whether that was a part of a head, or the first of the statement below it
        def below(event, text)
          return false unless event.raw.start_with?("# ") && event.raw.start_with?(event.message)

          if text.start_with?("# ") then if event.fields.size < MOST_FIELDS
                                           event.fields = event.fields.merge(details(text))
                                         end
          elsif (match = DATABASE.match(text)) then event.fields = event.fields.merge("db.namespace" => match[1])
          elsif (match = MOMENT.match(text)) then came(event, match)
          else event.message = text
          end
          true
        end

        def command(line, at, stamp, context)
          match = COMMAND.match(line, at) or return
          text = line.byteslice(match.end(0), line.bytesize)
          severity = match[2] == "Connect" ? SeverityWords.read(text) : ORDINARY
          message = SAYING.include?(match[2]) ? text : line.byteslice(match.begin(2), line.bytesize).rstrip
          context.event(
            line,
            reader: NAME, stamp: stamp, message: message, service: SERVICE,
            severity: severity == SeverityWords::NOTHING ? ORDINARY : severity,
            fields: { "connection.id" => match[1], "db.operation.name" => match[2] }
          )
        end
        private_class_method :command

        def slow(line, context)
          user = USER.match(line)
          stamp =
            if line.start_with?(TIME)
              Stamp.read(line.byteslice(TIME.bytesize, line.bytesize), context.clock, FORMS)
            else
              user && moment(context)
            end
          return unless stamp

          fields =
            if user
              {
                "user.name" => user[1], "client.address" => user[3].empty? ? user[2] : user[3],
                **details(user.post_match)
              }
            else
              {}
            end
          context.event(
            line, reader: NAME, stamp: stamp, message: line, service: SERVICE, severity: SLOW, fields: fields
          )
        end
        private_class_method :slow

        # Until the time is told, that of the source stands in.
        def moment(context) = Stamp::Found.new(context.clock.reference_us, 0, TIME_INFERRED)
        private_class_method :moment

        def came(event, match)
          return unless event.inferred == TIME_INFERRED

          event.time_us = (match[1].to_i * Clock::SECOND) + match[2].to_s.ljust(6, "0").to_i
          event.inferred = Stamp::NOTHING
        end
        private_class_method :came

        def details(text)
          text.scan(DETAILS).to_h do |written, value|
            name = DETAIL_NAMES[written] || "db.#{written.downcase}"
            [name, detail(name, value)]
          end
        end
        private_class_method :details

        # Times come in seconds; a connection's number is a name.
        def detail(name, value)
          return (value.to_f * 1000).round(3) if name.end_with?("_ms")

          WHOLE.match?(value) && name != "connection.id" ? value.to_i : value
        end
        private_class_method :detail
      end
    end
  end
end
