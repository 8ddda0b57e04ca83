# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Records of the Linux audit system (audit.rules(7), auditd.conf(5)): `type=… msg=audit(time:serial): …`. The
      # records of one event have one serial number, and are joined.
      module Audit
        NAME = :audit
        TITLE = "Linux audit"
        WHY = "type= and msg=audit(time:serial)"
        LINE = /\A(?:node=(\S+) )?type=(\w+) msg=audit\((\d{10})\.(\d{3}):(\d+)\): ?/
        # What programs say stands in quotes of its own.
        INNER = /msg='([^']*)'/
        NAMES = {
          "pid" => "process.pid", "ppid" => "process.parent_pid", "exe" => "process.executable.path",
          "comm" => "process.executable.name", "acct" => "user.name", "addr" => "source.address",
          "auid" => "audit.login.id", "uid" => "user.id", "ses" => "session.id", "key" => "audit.key",
          "res" => "event.outcome", "name" => "file.path", "op" => "audit.operation", "proctitle" => "process.title",
          "cmd" => "process.command_line",
          # Behind a separator of its own, what numbers mean on that machine (auditd.conf(5), log_format
          # ENRICHED).
          "AUID" => "audit.login.name", "UID" => "user.name"
        }.freeze
        SEPARATOR = "\x1D"
        # What programs and people named stands in quotes, or in hexadecimal where it has blanks, quotes or control
        # characters (audit_log_untrustedstring() of Linux); a title of a process has its arguments apart by NUL.
        NAMED = %w[proctitle comm exe cmd name cwd acct key path data].freeze
        HEXADECIMAL = /\A(?:\h\h)+\z/
        ARGUMENTS = "EXECVE"
        ARGUMENT = /\Aa\d+\z/
        FAILED = %w[failed no 0].freeze
        SERVICE = "audit"
        UNKNOWN = ["?", "(null)"].freeze
        # An event has a dozen records; what has more fields than this takes no more.
        MOST_FIELDS = 200
        DONE = [Severity::INFORMATIONAL, "an audit record of what was done"].freeze
        REFUSED = [Severity::WARNING, "an audit record of what failed or was denied"].freeze

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          match = LINE.match(line) or return
          message = line.byteslice(match.end(0), line.bytesize)
          fields = { "audit.serial" => match[5].to_i, "audit.type" => match[2] }
          take(message.include?(SEPARATOR) ? message.tr(SEPARATOR, " ") : message, fields)
          us = (match[3].to_i * Clock::SECOND) + (match[4].to_i * 1000)
          refused = FAILED.include?(fields["event.outcome"]) || (match[2] == "AVC" && message.include?("denied"))
          context.event(
            line,
            reader: NAME, stamp: Stamp::Found.new(us, 0, Stamp::NOTHING), message: "#{match[2]} ".b << message,
            machine: match[1], service: SERVICE, severity: refused ? REFUSED : DONE, fields: fields
          )
        end

        # @param before [Event]
        # @param event [Event] of the next line
        # @return [Boolean] whether both are of one event
        def joins?(before, event)
          before.fields.size < MOST_FIELDS &&
            before.fields["audit.serial"] == event.fields["audit.serial"] && before.time_us == event.time_us
        end

        # @param before [Event] gains what the next line tells
        def join(before, event)
          also = event.fields["file.path"]
          before.fields = event.fields.merge(before.fields)
          known = before.fields.select { |name,| name.start_with?("file.path") }
          before.fields["file.path.#{known.size}"] = also unless also.nil? || known.value?(also)
          return unless event.severity < before.severity

          before.severity = event.severity
          before.severity_rule = event.severity_rule
        end

        def take(message, fields)
          inner = message[INNER, 1]
          arguments = []
          [inner, inner ? message.sub(INNER, "") : message].compact.each do |text|
            Pairs.scan(text).each do |key, value|
              next if UNKNOWN.include?(value)
              next arguments << told(key, value, text) if fields["audit.type"] == ARGUMENTS && ARGUMENT.match?(key)

              fields[NAMES[key] || FieldNames.common(key)] ||= NAMED.include?(key) ? told(key, value, text) : value
            end
          end
          fields["process.command_line"] = arguments.join(" ") if arguments.any?
        end
        private_class_method :take

        # What stands in quotes may look like hexadecimal, and is none.
        def told(key, value, text)
          return value unless HEXADECIMAL.match?(value) && text.include?("#{key}=#{value}")

          [value].pack("H*").tr("\0", " ")
        end
        private_class_method :told
      end
    end
  end
end
