# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # The syslog protocol, RFC 5424 section 6, with structured data as fields.
      module Rfc5424
        NAME = :rfc5424
        TITLE = "syslog, RFC 5424"
        WHY = "starts with <PRI>, version 1 and the header of RFC 5424 section 6.2"

        # Behind the number, of at most three digits, that PRI is.
        VERSION = ">1 "
        LONGEST_PRI = 4
        DASH = "-".ord
        BLANK = " ".ord
        OPEN = "[".ord
        CLOSE = "]".ord
        QUOTE = '"'.ord
        BACKSLASH = "\\".ord
        # The longest host, program, process and message id that are taken, which is more than section 6 allows.
        LONGEST = 255
        BOM = "\xEF\xBB\xBF".b.freeze
        # Elements registered with IANA (RFC 5424 section 7) keep their name before that of the parameter.
        REGISTERED = %w[timeQuality origin meta].freeze
        NO_PREFIX = ""
        # Of an element or a parameter; longer ones are taken than section 6 allows.
        NAME_OF_DATA = /\A[^\s="\]]{1,128}\z/
        ESCAPED = /\\(["\\\]])/

        NAMES_KEPT = 2000

        @names = {}
        @prefixes = {}

        module_function

        # Looked for byte by byte: an expression with groups takes twice as long, and most lines are of this format.
        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          close = line.index(VERSION) or return
          return if close > LONGEST_PRI

          pri = Syslog.priority(line.byteslice(1, close - 1)) or return
          at = close + VERSION.bytesize
          host = word(line, at) or return
          stamp =
            if line.getbyte(at) == DASH && host == at + 2
              nil
            else
              Stamp.read_value(line.byteslice(at, host - at - 1), context.clock) || return
            end
          service = word(line, host) or return
          process = word(line, service) or return
          id = word(line, process) or return
          data = word(line, id) or return

          fields = {}
          fields["process.pid"] = line.byteslice(process, id - process - 1) unless nil_value?(line, process, id)
          fields["log.record.id"] = line.byteslice(id, data - id - 1) unless nil_value?(line, id, data)
          message_at = structured_data(line, data, fields) or return
          message = message_at < line.bytesize ? line.byteslice(message_at + 1, line.bytesize) : ""
          message = message.byteslice(3, message.bytesize) if message.start_with?(BOM)
          inner, = Payload.read(message, fields, context)
          context.event(
            line,
            reader: NAME, stamp: stamp, message: inner || message, body_at: host,
            machine: line.byteslice(host, service - host - 1), service: line.byteslice(service, process - service - 1),
            severity: pri.severity, fields: fields, constants: pri.constants
          )
        end

        # @return [Integer, nil] where the word behind this one starts; nil when this is none
        def word(line, at)
          space = line.index(" ", at)
          space + 1 if space && space > at && space - at <= LONGEST
        end
        private_class_method :word

        # Section 6.2: "-" stands for nothing.
        def nil_value?(line, at, behind) = behind == at + 2 && line.getbyte(at) == DASH
        private_class_method :nil_value?

        # Section 6.3. Parameters of private elements (`name@enterprise`) go by their own name, so that the same value
        # has the same field in every format; where two elements share a parameter, the later is told by its element.
        # @return [Integer, nil] where the structured data ends; nil when it is malformed
        def structured_data(line, at, fields)
          return at + 1 if line.getbyte(at) == DASH
          return unless line.getbyte(at) == OPEN

          while line.getbyte(at) == OPEN
            stop = at + 1
            stop += 1 while (byte = line.getbyte(stop)) && byte != BLANK && byte != CLOSE
            id = line.byteslice(at + 1, stop - at - 1)
            prefix = @prefixes[id] || known(@prefixes, id) { REGISTERED.include?(id) ? "#{id}." : NO_PREFIX } or return
            at = stop
            at = parameter(line, at, id, prefix, fields) or return while line.getbyte(at) == BLANK
            return unless line.getbyte(at) == CLOSE

            at += 1
          end
          at if at == line.bytesize || line.getbyte(at) == BLANK
        end
        private_class_method :structured_data

        # @param prefix [String] of the names of the element's parameters
        # @return [Integer, nil] where the parameter ends
        def parameter(line, at, id, prefix, fields)
          at += 1 while line.getbyte(at) == BLANK
          equals = line.index('="', at) or return
          written = line.byteslice(at, equals - at)
          name = @names[written] || known(@names, written) { FieldNames.common(written) } or return

          stop = from = equals + 2
          escaped = false
          # Quotes, backslashes and brackets within a value stand behind a backslash (section 6.3.3).
          while (byte = line.getbyte(stop)) != QUOTE
            return if byte.nil? || byte == CLOSE

            stop += byte == BACKSLASH ? 2 : 1
            escaped ||= byte == BACKSLASH
          end
          value = line.byteslice(from, stop - from)
          value = value.gsub(ESCAPED, '\1') if escaped
          name = prefix + Text.display(written) unless prefix.empty?
          name = "#{Text.display(id)}.#{Text.display(written)}" if fields.key?(name)
          fields[name] = value
          stop + 1
        end
        private_class_method :parameter

        # Programs have so many elements and parameters and no more: what was found to be a name is remembered.
        # @return [String, nil] nil when the text is no name
        def known(names, text)
          return unless NAME_OF_DATA.match?(text)

          names.clear if names.size > NAMES_KEPT
          names[text] = yield
        end
        private_class_method :known
      end
    end
  end
end
