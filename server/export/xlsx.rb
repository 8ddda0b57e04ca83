# frozen_string_literal: true

require "xlsxtream"

module Northdrift
  module Server
    module Export
      # A workbook (ECMA-376), written row by row. Text is written as text, so that nothing in it is computed.
      class Xlsx
        # A sheet holds 1,048,576 rows, a cell 32,767 characters (specifications and limits of the format, common
        # practice).
        ROWS = 1_048_575
        CHARACTERS = 32_767
        # Numbers have 15 digits there; what has more stands as text.
        EXACT = (-(10**15)..(10**15))
        # XML 1.0, section 2.2.
        NO_CHARACTER = /[^\u0009\u000A\u000D\u0020-\uD7FF\uE000-\uFFFD\u{10000}-\u{10FFFF}]/

        # @param value [Object]
        # @return [Object] as a cell may have it
        def self.cell(value)
          case value
          when String then value.gsub(NO_CHARACTER, "\uFFFD")[0, CHARACTERS]
          when Integer then EXACT.cover?(value) ? value : value.to_s
          else value
          end
        end

        def initialize(sheet)
          @sheet = sheet
          @workbook = Xlsxtream::Workbook.new(sheet.out)
          @rows = ROWS
          @sheets = 0
        end

        # @param event [Store::StoredEvent]
        def <<(event)
          add_sheet if @rows >= ROWS
          @worksheet << @sheet.row(event).map { |value| Xlsx.cell(value) }
          @rows += 1
        end

        def finish
          add_sheet if @sheets.zero?
          @worksheet.close
          @workbook.close
        end

        private

        def add_sheet
          @worksheet&.close
          @sheets += 1
          @worksheet = @workbook.add_worksheet(name: @sheets == 1 ? "Lines" : "Lines #{@sheets}", auto_format: false)
          @worksheet << @sheet.columns
          @rows = 0
        end
      end
    end
  end
end
