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
        # Tells where an entry ends, line by line: values may hold empty lines too.
        class Cutter
          # @param bytes [String] the next line, with its ending
          # @return [Boolean] whether it is the empty one that ends the entry
          def push(bytes)
            at = 0
            at = @left || @size ? value(bytes, at) : name(bytes, at) while at && at < bytes.bytesize
            at.nil?
          end

          private

          # @return [Integer, nil] where the next name starts
          def name(bytes, at)
            stop = bytes.index(LF, at) || bytes.bytesize
            return if stop == at

            @size = "".b unless bytes.byteslice(at, stop - at).include?("=")
            stop + 1
          end

          def value(bytes, at)
            return rest(bytes, at) if @left

            taken = bytes.byteslice(at, SIZE_BYTES - @size.bytesize)
            @size << taken
            return at + taken.bytesize if @size.bytesize < SIZE_BYTES

            # Behind it stands a line feed.
            @left = @size.unpack1("Q<") + 1
            @size = nil
            at + taken.bytesize
          end

          def rest(bytes, at)
            taken = [bytes.bytesize - at, @left].min
            @left -= taken
            @left = nil if @left.zero?
            at + taken
          end
        end

        module_function

        # @param record [String] bytes of a whole entry
        # @param context [Context]
        # @return [Event, nil] nil when the record is of another format
        def read(record, context)
          entry = record.start_with?(START) && fields(record)
          entry && entry["__REALTIME_TIMESTAMP"] ? Journal.event(entry, record, context, reader: NAME) : nil
        end

        # @return [Hash{String=>String,Array<String>}]
        def fields(record)
          {}.tap { |found| each(record) { |name, value| Journal.add(found, name, value) } }
        end
        private_class_method :fields

        # @yieldparam name [String]
        # @yieldparam value [String]
        def each(record)
          at = 0
          while at < record.bytesize
            stop = record.index(LF, at) || record.bytesize
            return if stop == at

            name, value = record.byteslice(at, stop - at).split("=", 2)
            at = stop + 1
            if value.nil?
              size = record.byteslice(at, SIZE_BYTES)&.unpack1("Q<")
              return if size.nil? || size > record.bytesize - at - SIZE_BYTES

              value = record.byteslice(at + SIZE_BYTES, size)
              at += SIZE_BYTES + size + 1
            end
            yield name, value
          end
        end
        private_class_method :each
      end
    end
  end
end
