# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Entries of the systemd journal as `journalctl -o export` writes them (systemd's "Journal Export Format"): a line
      # for each field, binary values with their length before them, and an empty line behind.
      module JournalExport
        NAME = :journal_export
        TITLE = "systemd journal, export"
        WHY = "starts with __CURSOR= and has a line for each field"
        START = "__CURSOR="
        LF = "\n".b.freeze
        SIZE_BYTES = 8

        module_function

        # @param record [String] bytes of a whole entry
        # @param context [Context]
        # @return [Event, nil] nil when the record is of another format
        def read(record, context)
          entry = record.start_with?(START) && fields(record)
          entry && entry["__REALTIME_TIMESTAMP"] ? Journal.event(entry, record, context, reader: NAME) : nil
        end

        # @param record [String] bytes of an entry so far
        # @return [Boolean] whether its last line is the empty one that ends it: values may hold empty lines too
        def whole?(record) = each(record) { nil } == :ended

        # @return [Hash{String=>String,Array<String>}]
        def fields(record)
          {}.tap do |found|
            each(record) { |name, value| found[name] = found.key?(name) ? [*found[name], value] : value }
          end
        end
        private_class_method :fields

        # @yieldparam name [String]
        # @yieldparam value [String]
        # @return [Symbol] :ended by an empty line, :open, or :cut within a value
        def each(record)
          at = 0
          while at < record.bytesize
            stop = record.index(LF, at) || record.bytesize
            return :ended if stop == at

            name, value = record.byteslice(at, stop - at).split("=", 2)
            at = stop + 1
            if value.nil?
              size = record.byteslice(at, SIZE_BYTES)&.unpack1("Q<")
              return :cut if size.nil? || size > record.bytesize - at - SIZE_BYTES

              value = record.byteslice(at + SIZE_BYTES, size)
              at += SIZE_BYTES + size + 1
            end
            yield name, value
          end
          :open
        end
        private_class_method :each
      end
    end
  end
end
