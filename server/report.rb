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

      COUNT = Column.new("lines", lambda(&:events), 9)
      CHANGE =
        Column.new("change", ->(row) { row.respond_to?(:first_time) && row.first_time ? "first time" : row.change }, 10)
      BEFORE = Column.new("before", lambda(&:before), 9)

      PATTERNS = [
        COUNT, Column.new("worst", ->(row) { Severity.name(row.severities.index(&:positive?) || Severity::UNSET) }, 13),
        Column.new(
          "machines",
          ->(row) { row.machines.compact.then { |names| names.size == 1 ? names.first : "#{names.size} machines" } }, 14
        ), Column.new("pattern", ->(row) { "#{'  ' if row.with}#{row.text}  (P#{row.id})" })
      ].freeze
      NUMBERS = %w[min median p95 max].freeze
      WORDS = [COUNT, Column.new("word", lambda(&:word))].freeze
      VALUES = [
        COUNT, Column.new("field", lambda(&:field), 24), Column.new("value", ->(row) { Text.line(row.value) })
      ].freeze
      # A value of a field, with the field's name.
      FieldValue = Struct.new(:field, :value, :events, :before, :change)

      module_function

      # @param columns [Array<Column>]
      # @param rows [Array]
      # @param compared [Boolean] whether the rows tell how they changed
      def table(columns, rows, out, compared: false)
        columns = [columns.first, BEFORE, CHANGE, *columns.drop(1)] if compared
        out.puts line(columns, columns.map(&:title))
        rows.each { |row| out.puts line(columns, columns.map { |column| column.value.call(row) }) }
      end

      # @param objects [Array<Hash>]
      def objects(objects, out) = objects.each { |object| out.puts Oj.dump(object, mode: :strict) }

      # A field each: its type, how many lines have it, its commonest values, and of numbers how they are distributed.
      # @param fields [Array<Store::FieldTable::Field>]
      def fields(fields, total, out, values:)
        fields.each do |field|
          out.puts "#{Text.line(field.name)}: #{field.type}, in #{field.events} of #{total} lines, " \
                   "#{'more than ' if field.cut}#{field.distinct} #{field.distinct == 1 ? 'value' : 'values'}"
          numbers = field.numbers
          if numbers
            told = NUMBERS.map { |name| "#{name} #{Measure::Units.text(numbers[name], numbers['unit'])}" }
            out.puts "           #{told.join(', ')}"
          end
          field
            .values
            .first(values)
            .each { |value| out.puts format("%9d  %-10s %s", value.events, value.change, Text.line(value.value)) }
        end
      end

      # @param measurement [Store::Measurement]
      def measurement(measurement, out)
        clause = measurement.clause
        columns = [
          Column.new(clause.aggregate, ->(group) { Measure::Units.text(group.value, measurement.unit) }, 12),
          Column.new(
            clause.by.join(" · "),
            ->(group) { group.by.nil? ? "other" : group.by.map { |value| Text.line(value || "(none)") }.join(" · ") }
          )
        ]
        table(columns, [*measurement.rows, measurement.other].compact, out) if clause.by.any?
        steps(measurement, out) if measurement.step_us
        missing = measurement.total - measurement.measured
        out.puts "#{Measure::Units.text(measurement.whole.value, measurement.unit)} over #{measurement.total} lines" \
                 "#{", #{missing} of which have no #{clause.field} to measure" if missing.positive?}"
      end

      # All groups together, step by step.
      def steps(measurement, out)
        whole = measurement.whole.steps
        (0...measurement.steps).each do |step|
          time = Time.at(0, measurement.start_us + (step * measurement.step_us), :microsecond, in: "UTC").iso8601
          out.puts format("%s  %12s", time, Measure::Units.text(whole[step], measurement.unit))
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
