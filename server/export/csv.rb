# frozen_string_literal: true

require "csv"

module Northdrift
  module Server
    module Export
      # RFC 4180, with names of columns in the first line.
      class Csv
        # What spreadsheet programs take for the start of a formula (OWASP, "CSV Injection").
        FORMULA = /\A[=+\-@\t\r]/

        # @param value [Object]
        # @return [Object] a text that would be computed, with a quote before it, which makes it text
        def self.harmless(value) = value.is_a?(String) && value.match?(FORMULA) ? "'#{value}" : value

        def initialize(sheet)
          @sheet = sheet
          sheet.out << CSV.generate_line(sheet.columns.map { |name| Csv.harmless(Text.display(name)) })
        end

        # @param event [Store::StoredEvent]
        def <<(event)
          @sheet.out << CSV.generate_line(@sheet.row(event).map { |value| Csv.harmless(value) })
        end

        def finish = nil
      end
    end
  end
end
