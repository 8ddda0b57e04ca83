# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Records whose time has a line of its own, with the text below it.
      module Headed
        NAME = :headed
        TITLE = "text below a line with its time"
        WHY = "a line with a time, and where it comes from"

        # A way of writing such a line: what starts it, which form its stamp has, what stands behind that, and the names
        # of what it captures; a level among them is a word.
        Head = Struct.new(:start, :form, :rest, :names)
        HEADS = [
          # Erlang/OTP documentation, logger_formatter, with its legacy header
          Head.new(/\A=([A-Z]+) REPORT==== (?=\d)/, :dashes, /\G ===\z/, %w[level]),
          # Java documentation, java.util.logging.SimpleFormatter
          Head.new(
            /\A(?=[A-Z][a-z]{2} \d\d?, )/, :month_day, /\G (\S+)(?: (\S+))?\z/, %w[logger.name code.function.name]
          ),
          # Samba's debug output: the level is a number, of which each part of it thinks otherwise
          Head.new(
            /\A\[(?=\d{4}\/)/, :slashes, /\G, +(\d{1,2})(?:, [^\]]*)?\] (\S+?):(\d+)\((\w+)\)\z/,
            %w[log.level.number code.file.path code.line.number code.function.name]
          )
        ].freeze
        # A level word before the text.
        LEVEL = /\A(SEVERE|WARNING|INFO|CONFIG|FINE|FINER|FINEST): /
        LEVELS = { "CONFIG" => Severity::DEBUG }.freeze

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          HEADS.each do |head|
            start = head.start.match(line) or next
            stamp = Stamp.read(line.byteslice(start.end(0), line.bytesize), context.clock, [head.form]) or next
            rest = head.rest.match(line, start.end(0) + stamp.size) or next
            return event(line, head.names.zip(start.captures + rest.captures).to_h.compact, stamp, context)
          end
          nil
        end

        # @param event [Event]
        # @param text [String] a line behind it
        # @return [Boolean] whether that is the first with a text, which is the event's message; until then that is all
        #   of the record
        def below(event, text)
          return false unless event.raw.start_with?(event.message)
          return true if text.strip.empty?

          level = LEVEL.match(text)
          message = level ? level.post_match : text.lstrip
          event.message = message
          event.fields = Pairs.add(message, event.fields)
          if event.severity == Severity::UNSET
            event.severity, event.severity_rule =
              level ? severity(level[1]) : SeverityWords.read(message)
          end
          true
        end

        def event(line, fields, stamp, context)
          level = fields.delete("level")
          context.event(
            line,
            reader: NAME, stamp: stamp, message: line, severity: (level && severity(level)) || SeverityWords::NOTHING,
            fields: fields
          )
        end
        private_class_method :event

        def severity(word)
          code = LEVELS[word] || Severity.from_word(word)
          code && [code, "level word “#{word}”"]
        end
        private_class_method :severity
      end
    end
  end
end
