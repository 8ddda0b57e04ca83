# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # An entry of the systemd journal as `journalctl -o verbose` prints it: its time and its address in the journal,
      # and below, indented, a field on each line. Values of several lines are indented further.
      module JournalVerbose
        NAME = :journal_verbose
        TITLE = "systemd journal, verbose"
        WHY = "a time, an address in the journal, and fields below"

        START = /\A(?=[MTWFS][a-z]{2} \d{4}-)[^\[\n]{26,60}\[s=\h+;i=\h+;[^\]\s]+\]\s*$/
        # Only the lines of an entry are indented.
        INSIDE = /\A[ \t]/
        FORMS = %i[weekday].freeze
        FIELD = /\A {1,8}([A-Z_][A-Z0-9_]{0,63})=(.*)/
        TIME = Journal::TIMES.last

        module_function

        # @param record [String] bytes of a whole entry
        # @param context [Context]
        # @return [Event, nil] nil when the record is of another format
        def read(record, context)
          return unless START.match?(record)

          stamp = Stamp.read(record.byteslice(0, Stamp::LONGEST), context.clock, FORMS) or return
          Journal.event(fields(record).merge(TIME => stamp.us.to_s), record, context, reader: NAME)
        end

        # @return [Hash{String=>String,Array<String>}]
        def fields(record)
          name = nil
          record.each_line(chomp: true).drop(1).each_with_object({}) do |line, found|
            match = FIELD.match(line)
            name = match[1] if match
            if match then Journal.add(found, name, match[2])
            elsif found[name].is_a?(String) then found[name] << "\n" << line.strip
            end
          end
        end
        private_class_method :fields
      end
    end
  end
end
