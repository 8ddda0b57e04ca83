# frozen_string_literal: true

require "oj"

module Northdrift
  module Server
    # What surveys have found, for the command line: tables for people, a JSON object a line for programs.
    module Report
      # @!attribute title [String]
      # @!attribute value [#call] takes a row, returns a text or a number
      # @!attribute width [Integer, nil] nil for the last column, which is as wide as it is
      Column = Struct.new(:title, :value, :width)

      COUNT = Column.new("lines", ->(row) { row["count"] }, 9)
      CHANGE = Column.new("change", ->(row) { row["first_time"] ? "first time" : row["change"] }, 10)
      BEFORE = Column.new("before", ->(row) { row["before"] }, 9)

      WORST = ->(row) { Severity.name(row["severities"].index(&:positive?) || Severity::UNSET) }
      PATTERNS = [
        COUNT, Column.new("worst", WORST, 13),
        Column.new(
          "machines",
          ->(row) { row["machines"].then { |names| names.size == 1 ? names.first : "#{names.size} machines" } }, 14
        ), Column.new("pattern", ->(row) { "#{'  ' if row['with']}#{row['text']}  (#{row['name']})" })
      ].freeze
      NUMBERS = %w[min median p95 max].freeze
      WORDS = [COUNT, Column.new("word", ->(row) { row["word"] })].freeze
      VALUES = [
        COUNT, Column.new("field", ->(row) { row["field"] }, 24),
        Column.new("value", ->(row) { Text.line(row["value"]) })
      ].freeze

      module_function

      # @param columns [Array<Column>]
      # @param rows [Array<Hash>] as the pages have them
      # @param compared [Boolean] whether the rows tell how they changed
      def table(columns, rows, out, compared: false)
        columns = [columns.first, BEFORE, CHANGE, *columns.drop(1)] if compared
        out.puts line(columns, columns.map(&:title))
        rows.each { |row| out.puts line(columns, columns.map { |column| column.value.call(row) }) }
      end

      # @param objects [Array<Hash>]
      def objects(objects, out) = objects.each { |object| out.puts Oj.dump(object, mode: :strict) }

      # A field each: its type, how many lines have it, its commonest values, and of numbers how they are distributed.
      # @param fields [Array<Hash>] as the pages have them
      def fields(fields, total, out, values:)
        fields.each do |field|
          name, type, count, distinct, cut, numbers = field.values_at(*%w[name type count distinct cut numbers])
          out.puts "#{Text.line(name)}: #{type}, in #{count} of #{total} lines, " \
                   "#{'more than ' if cut}#{distinct} #{distinct == 1 ? 'value' : 'values'}"
          if numbers
            told = NUMBERS.map { |name| "#{name} #{Measure::Units.text(numbers[name], numbers['unit'])}" }
            out.puts "           #{told.join(', ')}"
          end
          field["values"].first(values).each do |value|
            out.puts format("%9d  %-10s %s", value["count"], value["change"], Text.line(value["value"]))
          end
        end
      end

      # @param measurement [Hash] as the pages have it
      def measurement(measurement, out)
        by, unit, total = measurement.values_at("by", "unit", "total")
        columns = [
          Column.new(measurement["aggregate"], ->(group) { Measure::Units.text(group["value"], unit) }, 12),
          Column.new(
            by.join(" · "),
            ->(group) { group["by"].nil? ? "other" : group["by"].map { |one| Text.line(one || "(none)") }.join(" · ") }
          )
        ]
        table(columns, [*measurement["groups"], measurement["other"]].compact, out) if by.any?
        steps(measurement, out) if measurement["step_us"]
        missing = total - measurement["measured"]
        out.puts "#{Measure::Units.text(measurement['whole']['value'], unit)} over #{total} lines" \
                 "#{", #{missing} of which have no #{measurement['field']} to measure" if missing.positive?}"
      end

      # All groups together, step by step.
      def steps(measurement, out)
        start_us, step_us, unit = measurement.values_at("start_us", "step_us", "unit")
        whole = measurement["whole"]["steps"].to_h
        (0...measurement["steps"]).each do |step|
          time = Time.at(0, start_us + (step * step_us), :microsecond, in: "UTC").iso8601
          out.puts format("%s  %12s", time, Measure::Units.text(whole[step], unit))
        end
      end
      private_class_method :steps

      def line(columns, cells)
        columns.zip(cells).map do |column, cell|
          text = cell.is_a?(String) ? Text.line(cell) : cell.to_s
          next text unless column.width

          if cell.is_a?(Numeric) || column.title == "lines"
            text.rjust(column.width)
          else
            text[0, column.width].ljust(column.width)
          end
        end.join("  ").rstrip
      end
      private_class_method :line
    end
  end
end
