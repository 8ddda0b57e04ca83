# frozen_string_literal: true

require "csv"
require "oj"
require "tzinfo"

module Northdrift
  module Server
    # Forms in which the lines of a question leave the house. Each is a row here; output is written as it is found.
    module Formats
      COLUMNS = %w[time severity host.name service.name message source line_number].freeze
      # What spreadsheet programs take for the start of a formula (OWASP, "CSV Injection").
      FORMULA = /\A[=+\-@\t\r]/

      WRITERS = {
        "text" => lambda do |event, _, out, zone|
          out.puts "#{zone.to_local(event_time(event)).strftime('%Y-%m-%d %H:%M:%S.%6N')} #{Severity.name(event.severity)} " \
                   "#{event.machine || '-'} #{event.service || '-'} #{Text.display(event.message)}"
        end,
        "raw" => ->(event, _, out, _) { out.write(event.raw, "\n") },
        "ndjson" => ->(event, source, out, _) { out.puts Oj.dump(Present.record(event, source), mode: :strict) },
        "csv" => lambda do |event, source, out, _|
          row = [event.time, Severity.name(event.severity), event.machine, event.service, Text.display(event.message), source, event.line]
          out.write CSV.generate_line(row.map { |value| harmless(value) })
        end
      }.freeze

      module_function

      # @param question [Store::Question]
      # @param form [String] key of {WRITERS}, or "count"
      # @param out [IO]
      # @return [Integer] events written (or counted)
      def write(question, form, out, limit: nil, zone: "UTC")
        return question.total.tap { |total| out.puts(total) } if form == "count"

        writer = WRITERS.fetch(form)
        zone = TZInfo::Timezone.get(zone)
        sources = Store::Source.pluck(:id, :name).to_h
        out.binmode if form == "raw"
        out.write COLUMNS.to_csv if form == "csv"
        found = 0
        question.each(limit: limit) do |event|
          writer.call(event, Text.display(sources[event.source_id] || "?"), out, zone)
          found += 1
        end
        found
      end

      # @return [Object] a cell that no spreadsheet program computes
      def harmless(value) = value.is_a?(String) && value.match?(FORMULA) ? "'#{value}" : value

      def event_time(event) = Time.at(0, event.time_us, :microsecond, in: "UTC")
    end
  end
end
