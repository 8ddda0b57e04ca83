# frozen_string_literal: true

module Northdrift
  # One record, whole: the value that travels from the readers to the screen.
  #
  # `raw` and every text taken out of it are byte strings (`ASCII-8BIT`): offsets are bytes, and bytes that are not
  # UTF-8 pass through untouched. Use {Text.display} to show them.
  #
  # @!attribute time_us [Integer] microseconds since 1970-01-01T00:00:00Z
  # @!attribute severity [Integer] 0–7 as in RFC 5424 section 6.2.1, or {Severity::UNSET}
  # @!attribute severity_rule [String] what told the severity, for the inspector
  # @!attribute machine [String, nil] `host.name`
  # @!attribute service [String, nil] `service.name`
  # @!attribute message [String] the part written for people
  # @!attribute fields [Hash{String=>String,Numeric,true,false}] further values by name, in the order they stand
  # @!attribute constants [Hash{String=>Object}] values told by the record without standing in it (a facility's name)
  # @!attribute raw [String] every byte of the record but its line ending
  # @!attribute ending [String] the bytes that ended it ("\n", "\r\n", or "" at the end of the source or inside a line)
  # @!attribute body_at [Integer] where the text after the record's own leading stamp starts
  # @!attribute reader [Symbol] name of the reader, see {Reading::Catalogue}
  # @!attribute stamped [Boolean] whether the record carries a time of its own
  # @!attribute inferred [Array<Symbol>] what had to be inferred: :time, :date, :year, :zone, :machine,
  #   :repeated_hour
  # @!attribute line_number [Integer] of its first line in the source, from 1
  # @!attribute offset [Integer] of its first byte in the (decompressed) source, from 0
  # @!attribute note [String, nil] what was done to it while reading (split, for instance)
  Event =
    Struct.new(
      :time_us, :severity, :severity_rule, :machine, :service, :message, :fields, :constants, :raw, :ending, :body_at,
      :reader, :stamped, :inferred, :line_number, :offset, :note
    ) do
      # @return [Time] UTC
      def time = Time.at(0, time_us, :microsecond, in: "UTC")

      # @return [String] the text that words are searched in: all but the leading stamp
      def body = raw.byteslice(body_at, raw.bytesize)

      # @param ending [String]
      # @param number [Integer] of its first line
      # @param offset [Integer] of its first byte
      # @return [self] at that place of its source
      def stand_at(ending, number, offset)
        self.ending = ending
        self.line_number = number
        self.offset = offset
        self
      end

      # @return [Event] of the same time and place, with nothing taken out of its text
      def bare
        dup.tap do |event|
          event.message = raw
          event.body_at = 0
          event.fields = Reading::Context::NO_FIELDS
        end
      end

      # @param name [String, nil] of the machine, where the record names none: after where it came from
      def stand_in(name)
        return if machine || name.nil?

        self.machine = name
        self.inferred |= %i[machine]
      end

      # Strangers write lines: one that makes a part of the reading fail must not keep all others from being read.
      # @param part [String] what failed
      def stumbled(part, error) = self.note = "#{part} failed (#{error.class})"
    end
end
