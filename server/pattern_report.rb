# frozen_string_literal: true

require "oj"

module Northdrift
  module Server
    # Patterns for the command line: a table for people, a JSON object a line for programs.
    module PatternReport
      module_function

      # @param table [Store::PatternTable]
      # @param out [IO]
      # @param as [String] table or json
      # @param limit [Integer]
      def write(table, out, as:, limit:)
        rows = table.rows.first(limit)
        return rows.each { |row| out.puts(Oj.dump(Present.pattern(row), mode: :strict)) } if as == "json"

        compared = rows.any?(&:change)
        out.puts(format("%9s  %-13s  %-14s%s  %s", "lines", "worst", "machines", compared ? "  change    " : "", "pattern"))
        rows.each { |row| out.puts(line(row, compared)) }
        out.puts("#{table.rows.size - rows.size} more patterns are not shown (--limit)") if table.rows.size > rows.size
      end

      def line(row, compared)
        worst = row.severities.index(&:positive?) || Severity::UNSET
        machines = row.machines.compact
        change = compared ? format("  %-10s", row.first_time ? "first time" : row.change) : ""
        format("%9d  %-13s  %-14s%s  %s", row.lines, Severity.name(worst), machines.size == 1 ? machines.first[0, 14] : "#{machines.size} machines", change, "#{row.text}  (P#{row.id})")
      end
      private_class_method :line
    end
  end
end
