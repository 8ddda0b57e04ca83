# frozen_string_literal: true

require "csv"

module Northdrift
  module Reading
    module Formats
      # Separated values (RFC 4180) whose first line names the columns, one of them the time. Values may hold line
      # breaks when they stand in quotes.
      module Csv
        NAME = :csv
        TITLE = "separated values with a header"
        WHY = "columns that the first line of the file names"
        NOTE = [Severity::INFORMATIONAL, "the names of the columns"].freeze
        WHOLE = /\A-?\d{1,15}\z/
        QUOTE = '"'
        ZONE = "tz"
        OFFSET = /\A[+-]\d\d:?\d\d\z/
        # Names of a column with the day, and of one with the time of day.
        DAYS = %w[date datum fecha 日期 дата].map(&:b).freeze
        CLOCKS = %w[time uhrzeit zeit hora heure 时间 時刻 время].map(&:b).freeze

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          header = context.header
          return if header.nil? || header.separator.nil?
          return context.event(line, reader: NAME, stamp: nil, message: line, severity: NOTE) if line == header.line
          return open_record(line, context) if unfinished?(line)

          values = cells(line, header.separator)
          values&.size == header.names.size ? record(line, header.names.zip(values), context) : nil
        end

        # @param text [String]
        # @return [Boolean] whether a quoted value goes on with the next line
        def unfinished?(text) = text.count(QUOTE).odd?

        # @param line [String] a further one
        # @return [Boolean] whether the value ends with it
        def finishes?(line) = line.count(QUOTE).odd?

        # Until its end has come.
        def open_record(line, context) = context.event(line, reader: NAME, stamp: nil, message: line)
        private_class_method :open_record

        def cells(line, separator)
          CSV.parse_line(line, col_sep: separator)
        rescue CSV::MalformedCSVError
          nil
        end
        private_class_method :cells

        # As a JSON object with these names would be read.
        def record(line, pairs, context)
          flat = pairs.each_with_object({}) do |(name, value), all|
            next if value.nil? || value.empty?

            all[name] = WHOLE.match?(value) ? value.to_i : value.b
          end
          JsonLines.build(line, with_time(flat), context, NAME)
        end
        private_class_method :record

        # Day, time and zone may have a column each, and the time may be called what only tables call it.
        # @param flat [Hash{String=>Object}] values by name
        # @return [Hash{String=>Object}]
        def with_time(flat)
          day, time = [DAYS, CLOCKS].map { |wanted| flat.keys.find { |name| wanted.include?(name.downcase(:ascii)) } }
          if day && time
            whole = [flat[day], flat[time], *(flat[ZONE] if OFFSET.match?(flat[ZONE].to_s))].join(" ")
            return { "time" => whole }.merge(flat.except(day, time))
          end

          other = flat.keys.find { |name| Header::TIMES.include?(name.downcase) && FieldNames.role(name).nil? }
          other ? { "time" => flat[other] }.merge(flat.except(other)) : flat
        end
      end
    end
  end
end
