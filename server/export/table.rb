# frozen_string_literal: true

require "csv"
require "stringio"
require "xlsxtream"

module Northdrift
  module Server
    module Export
      # Tables of figures as files.
      module Table
        # By form: its media type.
        FORMS = {
          "csv" => "text/csv; charset=utf-8",
          "xlsx" => "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
        }.freeze
        # A sheet's name has no more characters, and none of these (specifications and limits of the format, common
        # practice).
        MOST_NAME = 31
        UNFIT = %r{[\[\]:*?/\\]}

        module_function

        # @param form [String] a key of {FORMS}
        # @param title [String]
        # @param headings [Array<String>]
        # @param rows [Array<Array>]
        # @return [String] bytes
        def write(form, title, headings, rows) = form == "xlsx" ? xlsx(title, headings, rows) : csv(headings, rows)

        def csv(headings, rows)
          [headings, *rows].map { |row| CSV.generate_line(row.map { |value| Csv.harmless(value) }) }.join
        end
        private_class_method :csv

        def xlsx(title, headings, rows)
          out = StringIO.new("".b)
          workbook = Xlsxtream::Workbook.new(out)
          name = title.gsub(UNFIT, " ").strip[0, MOST_NAME]
          workbook.write_worksheet(name: name.empty? ? "Figures" : name, auto_format: false) do |sheet|
            [headings, *rows].each { |row| sheet << row.map { |value| Xlsx.cell(value) } }
          end
          workbook.close
          out.string
        end
        private_class_method :xlsx
      end
    end
  end
end
