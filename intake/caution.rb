# frozen_string_literal: true

module Northdrift
  module Intake
    # Reads a task line by line, after a reading process did not come to its end. The line that it is at is noted in a
    # file, so that it is known which one was at fault when this process does not come to the end either: that line is
    # kept as it came.
    class Caution
      NOTE = "took too long to read, or failed: kept as it came"
      # Seconds of processor time for one line, and for all of a task: what is left then is kept as it came.
      LINE_SECONDS = 5
      TASK_SECONDS = 60
      ALL = "*"
      # What a text may bring about besides errors: too deep, or too much of it.
      ENDS = [SystemStackError, NoMemoryError].freeze

      # @param path [String] of the task
      # @return [Integer, nil] index of the line that was begun last
      def self.fault(path)
        File.binread(notes(path)).unpack1("Q")
      rescue Errno::ENOENT
        nil
      end

      # @param path [String] of the task
      # @return [String] the file with that index
      def self.notes(path) = "#{path}-at"

      # @param path [String] of the task
      # @param faults [Array<Integer>, String] indexes of lines that are not to be read, or {ALL}
      def initialize(path, faults)
        @all = faults == ALL
        @faults = @all ? [] : faults
        @notes = File.open(Caution.notes(path), File::RDWR | File::CREAT | File::BINARY)
        @index = -1
        @ends = ProcessorTime.used + TASK_SECONDS
      end

      # Has the next line read.
      # @yield the reading
      # @return [Boolean] whether it was; it is to be kept as it came otherwise
      def try
        @index += 1
        return false if @all || @faults.include?(@index) || ProcessorTime.used > @ends

        @notes.pwrite([@index].pack("Q"), 0)
        ProcessorTime.allow(LINE_SECONDS)
        yield
        true
      rescue SystemCallError
        raise # not for want of a readable line
      rescue StandardError, *ENDS
        false
      end

      # All lines are read: what is done with them takes its time, and is not for the last of them to answer for.
      def rest = ProcessorTime.allow(TASK_SECONDS)

      # @param text [String] one record
      # @param context [Reading::Context]
      # @return [Event] with nothing read of it
      def self.kept(text, context)
        event =
          context.event(
            text,
            reader: Reading::Formats::Plain::NAME, stamp: nil, message: text, severity: [Severity::UNSET, NOTE]
          )
        event.note = NOTE
        event
      end

      def close = @notes.close
    end
  end
end
