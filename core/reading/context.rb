# frozen_string_literal: true

module Northdrift
  module Reading
    # What is known about a source besides its bytes, and the making of events from it.
    class Context
      NO_FIELDS = {}.freeze
      NOTHING = [].freeze
      TIME_INFERRED = %i[time].freeze
      NAMES_KEPT = 20_000
      FAR = "clock far off: its time is not taken from the line"

      # @return [Clock]
      attr_reader :clock
      # @return [Header, nil] names of the columns of what is read, where a line before has named them
      attr_accessor :header
      # @return [String, nil] the day of lines that have a time alone, where a line before has told it: 2026-11-22
      attr_accessor :day
      # @return [String, nil] the machine of records that name none
      attr_reader :machine

      # @param clock [Clock]
      # @param machine [String, nil]
      def initialize(clock:, machine: nil)
        @clock = clock
        @machine = machine
        @names = {}
      end

      # @param stamp [Stamp::Found, nil] nil when the record has no time
      # @param severity [Array(Integer, String), nil] code and rule; read from the words of the message by default
      # @return [Event]
      def event(
        raw,
        reader:,
        stamp:,
        message:,
        body_at: 0,
        machine: nil,
        service: nil,
        severity: nil,
        fields: NO_FIELDS,
        constants: NO_FIELDS
      )
        code, rule = severity || SeverityWords.read(message)
        if stamp && @clock.far?(stamp.us)
          stamp = nil
          note = FAR
        end
        Event.new(
          stamp ? stamp.us : @clock.reference_us, code, rule, name(machine) || @machine, name(service), message, fields,
          constants, raw, nil, body_at, reader, !stamp.nil?, stamp ? stamp.inferred : TIME_INFERRED, nil, nil, note
        )
      end

      # Names of machines and services repeat endlessly: one string each.
      # @return [String, nil] nil for nothing and for the "-" that means nothing
      def name(text)
        return unless text

        @names[text] || new_name(text)
      end

      private

      def new_name(text)
        return if text.empty? || text == "-"

        @names.clear if @names.size > NAMES_KEPT
        @names[text.dup.freeze] = -Text.display(text)
      end
    end
  end
end
