# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # A log record of the OpenTelemetry protocol in its JSON encoding (OTLP specification 1.x, section "JSON Protobuf
      # Encoding"; fields as in the logs data model), with its resource and scope around it: `{"resourceLogs":[…]}`. Of
      # a line with several records the first one tells time and message; {Otlp.split} makes a line of each.
      module OtlpJson
        NAME = :otlp_json
        TITLE = "OpenTelemetry logs, JSON"
        WHY = "the line is a JSON object with resourceLogs"
        START = /\A\s*\{\s*"resource_?[Ll]ogs"/
        # A time of all zeros means that there is none (logs data model, field Timestamp).
        TIMES = %w[timeUnixNano observedTimeUnixNano].freeze
        # Fields that every event has a place for.
        COLUMNS = %w[host.name service.name].freeze
        DEPTH = 8
        VALUES = 200

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          return unless START.match?(line)

          resource, scope, record = first(Json.parse(line)) || return
          fields = {}
          attributes(record["attributes"], fields)
          # Hexadecimal in either case ("JSON Protobuf Encoding"); one request has one.
          { "trace.id" => "traceId", "span.id" => "spanId" }.each do |name, key|
            fields[name] = record[key].to_s.downcase.b unless record[key].to_s.empty?
          end
          fields["event.name"] ||= record["eventName"].to_s.b unless record["eventName"].to_s.empty?
          told = attributes(resource["attributes"], {})
          machine, service = told.values_at(*COLUMNS)
          told.each do |name, value|
            fields[name] = value unless fields.key?(name) || COLUMNS.include?(name)
          end
          fields["logger.name"] ||= scope["name"].to_s.b unless scope["name"].to_s.empty?
          context.event(
            line,
            reader: NAME, stamp: stamp(record), message: message(record["body"]), machine: machine, service: service,
            fields: fields, severity: severity(record)
          )
        end

        # @return [Array(Hash, Hash, Hash), nil] resource, scope and record
        def first(object)
          Otlp.to_enum(:each, object).first
        rescue Otlp::Malformed
          nil
        end
        private_class_method :first

        def stamp(record)
          nanos = TIMES.map { |name| record[name].to_i }.find(&:positive?)
          us = nanos && (nanos / 1000)
          Stamp::Found.new(us, 0, Stamp::NOTHING) if us && Clock::PLAUSIBLE.cover?(us)
        end
        private_class_method :stamp

        def severity(record)
          number = record["severityNumber"].to_i
          return [Severity.from_opentelemetry(number), "SeverityNumber #{number}"] if number.positive?

          text = record["severityText"].to_s
          code = Severity.from_word(text)
          code && [code, "SeverityText “#{Text.display(text)}”"]
        end
        private_class_method :severity

        def message(body)
          value = Otlp.value(body)
          if value.is_a?(String)
            value.b
          else
            value.nil? ? "".b : Json.dump(value)
          end
        end
        private_class_method :message

        def attributes(list, into)
          Array(list).each do |pair|
            flatten(Otlp.value(pair["value"]), FieldNames.common(pair["key"].to_s), into, 0) if pair.is_a?(Hash)
          end
          into
        end
        private_class_method :attributes

        def flatten(value, name, into, depth)
          return if into.size >= VALUES || name.empty?

          case value
          when Hash
            if depth >= DEPTH
              into[name] = Json.dump(value)
            else
              value.each { |key, inner| flatten(inner, "#{name}.#{key}", into, depth + 1) }
            end
          when Array
            into[name] = Json.dump(value)
          when String
            into[name] = value.b
          when nil
            nil
          else
            into[name] = value
          end
        end
        private_class_method :flatten
      end
    end
  end
end
