# frozen_string_literal: true

require "csv"

module Northdrift
  module Reading
    # Names of the columns of the lines that follow: the first line of a file with separated values (RFC 4180, section
    # 2), below a title and a legend or not, or a #Fields directive (W3C Working Draft "Extended Log File Format",
    # section "Directives").
    # @!attribute line [String] as it stands
    # @!attribute names [Array<String>]
    # @!attribute separator [String, nil] nil for a directive
    Header = Struct.new(:line, :names, :separator)

    class Header
      FIELDS = "#Fields:"
      SEPARATORS = [",", ";", "\t"].freeze
      NAME = %r{\A[A-Za-z@_\x80-\xFF][\w .@/()%\x80-\xFF-]{0,59}\z}n
      LEAST = 3
      # Two names may be a sentence with a comma, unless they are words without a blank.
      WORD = /\A[\w.@\x80-\xFF-]+\z/n
      # Names that a column with the time has, besides those of JSON records.
      TIMES = ["date", "time", "date time", "date-time", "date/time", "created", "timestamp (utc)", "event time"].freeze
      # So far into a file its names are looked for, and in so many lines.
      REACH = 1 << 16
      SEARCHED = 60
      BYTE_ORDER_MARK = "\xEF\xBB\xBF".b.freeze

      # Longer is no line of names.
      LONGEST = 1 << 14

      # @param line [String] bytes
      # @return [Header, nil]
      def self.read(line)
        return if line.bytesize > LONGEST

        line = line.chomp.delete_prefix(BYTE_ORDER_MARK)
        return directive(line) if line.start_with?(FIELDS)

        separated(line)
      end

      # @param text [String] from the start of a line
      # @param first [Boolean] whether it is the start of the source
      # @return [String, nil] the line that names the columns of what comes after the text
      def self.last(text, first:)
        at = text.rindex(/^#Fields:/n)
        return text.byteslice(at, REACH)[/\A.*/] if at

        lines = first ? text.byteslice(0, REACH).each_line(chomp: true) : []
        lines.first(SEARCHED).find { |line| read(line) }
      end

      # By the draft blanks stand between the names and the values; some servers have commas.
      def self.directive(line)
        names = line.byteslice(FIELDS.bytesize, line.bytesize).split(/[\s,]+/).reject(&:empty?)
        new(line, names, line.include?(",") ? "," : nil)
      end
      private_class_method :directive

      def self.separated(line)
        separator = SEPARATORS.max_by { |sign| line.count(sign) }
        return unless line.include?(separator)

        cells = CSV.parse_line(line, col_sep: separator) || []
        names = cells.map { |name| name.to_s.strip }
        return if !names.all?(NAME) || names.uniq.size != names.size || (names.size < LEAST && !cells.all?(WORD))

        if names.any? do |name|
             FieldNames.role(name) == :time || TIMES.include?(name.downcase) || Formats::JsonLines::TIMELY.match?(name)
           end
          new(line, names, separator)
        end
      rescue CSV::MalformedCSVError, ArgumentError
        nil
      end
      private_class_method :separated
    end
  end
end
