# frozen_string_literal: true

require "oj"

module Northdrift
  module Server
    module Export
      # Log records of OpenTelemetry in the JSON encoding of its protocol (OTLP 1.x, "JSON Protobuf Encoding"), a
      # request a line, as its file exporter writes them.
      class Otlp
        BATCH = 500
        # What an intValue holds (opentelemetry-proto, common.proto); larger ones are texts.
        INT64 = (-(1 << 63)...(1 << 63))
        # Identifiers are hexadecimal there (trace: 16 bytes, span: 8), and attributes otherwise.
        IDENTIFIERS = { "trace.id" => ["traceId", /\A\h{32}\z/], "span.id" => ["spanId", /\A\h{16}\z/] }.freeze

        def initialize(sheet)
          @sheet = sheet
          @events = []
        end

        # @param event [Store::StoredEvent]
        def <<(event)
          @events << event
          flush if @events.size >= BATCH
        end

        def finish = @events.empty? || flush

        private

        def flush
          resources = @events.group_by { |event| [event.machine, event.service] }.map do |(machine, service), events|
            attributes = { "host.name" => machine, "service.name" => service }.compact
            {
              "resource" => { "attributes" => attributes(attributes) },
              "scopeLogs" => [
                {
                  "scope" => { "name" => "northdrift", "version" => VERSION },
                  "logRecords" => events.map { |event| record(event) }
                }
              ]
            }
          end
          @sheet.out << (Oj.dump({ "resourceLogs" => resources }, mode: :strict) << "\n")
          @events.clear
        end

        # Integers of 64 bits are strings in protobuf's JSON.
        def record(event)
          identifiers, fields =
            event.fields.partition { |name, value| IDENTIFIERS[name]&.last&.match?(value.to_s) }.map(&:to_h)
          fields = fields.merge("log.file.path" => @sheet.source(event), "log.record.original" => Text.utf8(event.raw))
          record = {
            "timeUnixNano" => (event.time_us * 1000).to_s, "severityNumber" => Severity::OPENTELEMETRY[event.severity],
            "severityText" => Severity.name(event.severity), "body" => { "stringValue" => event.message },
            "attributes" => attributes(fields)
          }
          identifiers.each { |name, value| record[IDENTIFIERS[name].first] = value.downcase }
          record
        end

        def attributes(values) = values.map { |name, value| { "key" => Text.utf8(name), "value" => value(value) } }

        def value(value)
          case value
          when Float then { "doubleValue" => value }
          when INT64 then { "intValue" => value.to_s }
          when true, false then { "boolValue" => value }
          else { "stringValue" => Text.utf8(value.to_s) }
          end
        end
      end
    end
  end
end
