# frozen_string_literal: true

module Northdrift
  module Reading
    # Whether a line goes on with the record before it, for lines that no reader knows to begin one; learned from the
    # records of one source. It also places records that have no time.
    class Continuation
      # As so many plain records of its shape a line is one too; so many shapes are known.
      USUAL = 3
      SHAPES = 100
      # The first word of a line where it is more than a word: "[795]", "12:", "***", "sendto:".
      FIRST = /\A(?![A-Za-z\x80-\xFF]+[.,;]?\s)\S{1,40}(?=\s)/n
      NAMED = /\A[A-Za-z]+:\z/
      # A line that begins with its level in brackets is a record, and so is what journalctl has between boots.
      BEGINS = /\A(?:[\[<](?:#{Heading::LEVELS})[\]>]\s|-- (?:Boot \h|Reboot --|Logs begin |Journal begins ))/i
      # Where the outputs of several containers stand in one, each line says whose it is.
      WHOSE = /\A[\w.-]{1,64} +\| /
      # A date within a text is not its time where it is so far from the record before: "compiled on 19 May 2023".
      FAR_US = 31 * Clock::DAY * Clock::SECOND

      # @param context [Context]
      def initialize(context)
        @context = context
        @shapes = Hash.new(0)
        @latest_us = nil
        @repeated = RepeatedHour.new(context.clock)
      end

      # @return [Boolean] whether a line with this may be a part of another record as well
      def self.loose?(event)
        event.reader == :plain || event.reader == :within || event.inferred.include?(:date)
      end

      # @param event [Event]
      # @return [Event] the same, without a time that is none
      def look(event)
        far = event.reader == :within && @latest_us && (event.time_us - @latest_us).abs > FAR_US
        far ? Formats::Plain.read(event.raw, @context) : event
      end

      # It does behind a record that has a time, unless it has one itself and that stands where the record's own does,
      # or lines of its shape stood for themselves before.
      # @param event [Event]
      # @param joint [Joint] the record so far
      # @return [Boolean]
      def goes_on?(event, joint)
        return false if !Continuation.loose?(event) || event.note
        return true if joint.continues?(event.raw)

        before = joint.event
        return thrown?(event, before) if before.reader == :within || (!before.stamped && before.reader == :plain)
        return false if !before.stamped || usual?(event.raw) || BEGINS.match?(event.raw) || another?(event, before)

        !event.stamped || (!before.inferred.include?(:date) && leads?(before))
      end

      # A record without a time is of the time of the one before it.
      # @param event [Event] a new record
      def place(event)
        @repeated.place(event, @latest_us)
        return @latest_us = event.time_us if event.stamped

        event.time_us = @latest_us if @latest_us
        shape = event.reader == :plain && @shapes.size < SHAPES && shape(event.raw)
        @shapes[shape] += 1 if shape
      end

      private

      def another?(event, before)
        whose = event.raw[WHOSE]
        whose && before.raw.match?(WHOSE) && !before.raw.start_with?(whose)
      end

      # An exception belongs to the line before it, unless that begins with one.
      def thrown?(event, before) = Traces.thrown?(event.raw) && !Traces.thrown?(before.raw)

      def usual?(text) = @shapes.any? && @shapes.fetch(shape(text), 0) >= USUAL

      def shape(text)
        word = text[FIRST] or return
        NAMED.match?(word) ? word : word.tr("A-Za-z", "a").tr("0-9", "0").squeeze("a0")
      end

      # @return [Boolean] whether a record starts with its time
      def leads?(event)
        _, at = Stamp.find(event.raw, @context.clock)
        at.nil? || at < 2
      end
    end
  end
end
