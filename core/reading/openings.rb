# frozen_string_literal: true

module Northdrift
  module Reading
    # Where a stream can be cut: before a line that starts a record whatever stands before it.
    module Openings
      LF = "\n".b.freeze

      module_function

      # @param buffer [String]
      # @param start [Integer] offset of a line
      # @param stop [Integer] offset of its line ending
      # @param context [Context]
      # @return [Boolean]
      def opens?(buffer, start, stop, context)
        line = buffer.byteslice(start, stop - start).chomp("\r")
        return true if line.start_with?(Formats::JournalExport::START)
        return false if line.empty? || line.start_with?(" ", "\t", "<Event", "<?xml") || inside_entry?(buffer, start)
        return false if Continuation.loose?(Catalogue.read(line, context))

        # Not inside a Windows event.
        (buffer.rindex("<Event", start) || -1) <= (buffer.rindex("</Event", start) || -1)
      end

      # Lines of a journal's entry may look like anything.
      def inside_entry?(buffer, start)
        opened = buffer.rindex(Formats::JournalExport::START, start) or return false
        !buffer.byteslice(opened, start - opened).include?("\n\n")
      end
      private_class_method :inside_entry?

      # @param from [Integer] where the first line to look at starts, or lies within
      # @return [Integer, nil] where the first record behind it surely starts
      def after(buffer, from, context)
        at = buffer.index(LF, from)
        while at && at + 1 < buffer.bytesize
          start = at + 1
          at = buffer.index(LF, start) or return
          return start if opens?(buffer, start, at, context)
        end
      end

      # @param lines [Integer] so many are looked at
      # @return [Integer, nil] where the last record surely starts that has a line ending
      def last(buffer, context, lines: 200)
        stop = buffer.rindex(LF) or return
        lines.times do
          start = stop.zero? ? 0 : (buffer.rindex(LF, stop - 1)&.succ || 0)
          return start if opens?(buffer, start, stop, context)
          return if start.zero?

          stop = start - 1
        end
        nil
      end
    end
  end
end
