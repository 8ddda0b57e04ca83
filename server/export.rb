# frozen_string_literal: true

require "tzinfo"

module Northdrift
  module Server
    # Forms in which the lines of a question leave the house: one class each, written as the lines are found. A form is
    # made with an {Export::Sheet}, gets every event, and is finished.
    module Export
      # Where a form writes, and what its rows are made of.
      #
      # @!attribute out [#<<] takes pieces of bytes
      # @!attribute columns [Array<String>] for forms that have columns
      # @!attribute zone [TZInfo::Timezone] for forms that are for people
      # @!attribute sources [Hash{Integer=>String}] names by id
      Sheet = Struct.new(:out, :columns, :zone, :sources) do
        # @param event [Store::StoredEvent]
        # @return [String]
        def source(event) = Text.display(sources[event.source_id] || "?")

        # @return [Array] a value for each column
        def row(event)
          columns.map do |column|
            VALUES
              .fetch(column) { ->(one, _) { one.fields[column] } }
              .call(event, self)
              .then { |value| value.is_a?(String) ? Text.display(value) : value }
          end
        end
      end

      COLUMNS = %w[time severity host.name service.name message source line_number].freeze
      VALUES = {
        "time" => ->(event, _) { event.time }, "severity" => ->(event, _) { Severity.name(event.severity) },
        "host.name" => ->(event, _) { event.machine }, "service.name" => ->(event, _) { event.service },
        "message" => ->(event, _) { event.message }, "source" => ->(event, sheet) { sheet.source(event) },
        "line_number" => ->(event, _) { event.line }, "pattern" => ->(event, _) { event.pattern },
        "raw" => ->(event, _) { Text.utf8(event.raw) }
      }.freeze

      # @!attribute writer [Symbol] its class, which is loaded when it is wanted
      # @!attribute suffix [String] of a file's name
      # @!attribute type [String] media type
      # @!attribute binary [Boolean] whether a terminal cannot show it
      Form = Struct.new(:writer, :suffix, :type, :binary)

      FORMS = {
        "text" => Form.new(:Lines, "txt", "text/plain; charset=utf-8"),
        "raw" => Form.new(:Raw, "log", "text/plain"),
        "ndjson" => Form.new(:Ndjson, "ndjson", "application/x-ndjson"),
        "csv" => Form.new(:Csv, "csv", "text/csv; charset=utf-8"),
        "xlsx" => Form.new(:Xlsx, "xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", true),
        "rfc5424" => Form.new(:Rfc5424, "log", "text/plain; charset=utf-8"),
        "otlp" => Form.new(:Otlp, "jsonl", "application/x-ndjson")
      }.freeze

      module_function

      # @param question [Store::Question]
      # @param form [String] key of {FORMS}
      # @param out [#<<]
      # @param more [Array<String>] fields that are columns besides {COLUMNS}
      # @yieldparam written [Integer] events so far; what the block raises stops it
      # @return [Integer] events written
      def write(question, form, out, more: [], limit: nil, zone: "UTC")
        writer =
          const_get(FORMS.fetch(form).writer).new(
            Sheet.new(out, COLUMNS | more, TZInfo::Timezone.get(zone), Store::Source.pluck(:id, :name).to_h)
          )
        written = 0
        question.each(limit: limit) do |event|
          writer << event
          written += 1
          yield written if block_given?
        end
        writer.finish
        written
      end
    end
  end
end
