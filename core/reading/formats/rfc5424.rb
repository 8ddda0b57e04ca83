# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # The syslog protocol, RFC 5424 section 6, with structured data as fields.
      module Rfc5424
        NAME = :rfc5424
        TITLE = "syslog, RFC 5424"
        WHY = "starts with <PRI>, version 1 and the header of RFC 5424 section 6.2"

        HEADER = /\A<(\d{1,3})>1 (-|\d{4}-\d\d-\d\dT\S+) (\S{1,255}) (\S{1,128}) (\S{1,128}) (\S{1,128}) (?=-|\[)/
        ISO = %i[iso].freeze
        BOM = "\xEF\xBB\xBF".b.freeze
        # Elements registered with IANA (RFC 5424 section 7) keep their name before that of the parameter.
        REGISTERED = %w[timeQuality origin meta].freeze
        ELEMENT = /\G\[([^\s="\]]{1,128})/
        NAME_OF_PARAMETER = /\A[^\s="\]]{1,128}\z/
        BARE_BRACKET = /(?<!\\)(?:\\\\)*\]/
        ESCAPED = /\\(["\\\]])/

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          header = HEADER.match(line) or return
          pri = Syslog.priority(header[1]) or return
          stamp = header[2] == "-" ? nil : Stamp.read_value(header[2], context.clock)
          return if stamp.nil? && header[2] != "-"

          fields = {}
          fields["process.pid"] = header[5] unless nil_value?(line, header.begin(5))
          fields["log.record.id"] = header[6] unless nil_value?(line, header.begin(6))
          at = structured_data(line, header.end(0), fields) or return
          message = at < line.bytesize ? line.byteslice(at + 1, line.bytesize) : ""
          message = message.byteslice(3, message.bytesize) if message.start_with?(BOM)
          message, = Payload.read(message, fields)
          context.event(line, reader: NAME, stamp: stamp, message: message, body_at: header.end(2) + 1, machine: header[3],
                              service: header[4], severity: pri.severity, fields: fields, constants: pri.constants)
        end

        # Section 6.2: "-" stands for nothing.
        def nil_value?(line, at) = line.getbyte(at) == 45 && line.getbyte(at + 1) == 32
        private_class_method :nil_value?

        # Section 6.3. Parameters of private elements (`name@enterprise`) go by their own name, so that the same value
        # has the same field in every format; where two elements share a parameter, the later is told by its element.
        # @return [Integer, nil] where the structured data ends; nil when it is malformed
        def structured_data(line, at, fields)
          return at + 1 if line.getbyte(at) == 45 # "-"

          while (element = ELEMENT.match(line, at))
            id = element[1]
            at = element.end(0)
            at = parameter(line, at, id, fields) or return while line.getbyte(at) == 32
            return unless line.getbyte(at) == 93 # "]"

            at += 1
          end
          at if at == line.bytesize || line.getbyte(at) == 32
        end
        private_class_method :structured_data

        # Looked for byte by byte: an expression with groups takes twice as long, and this is done for most lines.
        # @return [Integer, nil] where the parameter ends
        def parameter(line, at, id, fields)
          at += 1 while line.getbyte(at) == 32
          equals = line.index('="', at) or return
          name = line.byteslice(at, equals - at)
          return unless NAME_OF_PARAMETER.match?(name)

          from = equals + 2
          stop = line.index('"', from) or return
          # Quotes, backslashes and brackets within a value stand behind a backslash (section 6.3.3).
          stop = line.index('"', stop + 1) || return while backslashes(line, stop).odd?
          value = line.byteslice(from, stop - from)
          return if value.include?("]") && value.match?(BARE_BRACKET)

          keep(id, name, value, fields)
          stop + 1
        end
        private_class_method :parameter

        def backslashes(line, at)
          count = 0
          count += 1 while line.getbyte(at - 1 - count) == 92
          count
        end
        private_class_method :backslashes

        def keep(id, key, value, fields)
          value = value.gsub(ESCAPED, '\1') if value.include?("\\")
          name = REGISTERED.include?(id) ? "#{id}.#{key}" : FieldNames.common(key)
          name = "#{Text.display(id)}.#{Text.display(key)}" if fields.key?(name)
          fields[name] = value
        end
        private_class_method :keep
      end
    end
  end
end
