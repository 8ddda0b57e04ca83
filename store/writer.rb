# frozen_string_literal: true

module Northdrift
  module Store
    # Writes events in batches: rows, full-text index and roll-ups in one transaction, with whatever the caller adds
    # to it (how far the source has been read).
    class Writer
      EVENT = "INSERT INTO events (id, kind_id, source_id, line, offset, shift, head, body, extra, spans) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
      LINE = "INSERT INTO lines (rowid, text) VALUES (?, ?)"
      UTF8 = Encoding::UTF_8

      def initialize
        @kinds = {}
        @slots = Slots.new
      end

      # @param rows [Array<Packer::Row>]
      # @param fresh_kinds [Array<Array>] see {Packer#fresh_kinds}
      # @param packer [Object] whose numbers the kinds go by
      # @param source_id [Integer]
      # @yield within the transaction
      def write(rows, fresh_kinds, source_id:, packer: nil)
        ActiveRecord::Base.transaction do
          begin_immediate
          kinds = @kinds[packer] ||= {}
          fresh_kinds.each { |number, *definition| kinds[number] = Kinds.intern(*definition) }
          rows = in_order(rows)
          ids = @slots.assign(rows)
          insert(rows, ids, kinds, source_id)
          Rollup.add(rows, ids, kinds)
          yield if block_given?
        end
      rescue StandardError
        @slots.forget
        raise
      end

      # Forgets the kinds of a packer that has done its work.
      def release(packer) = @kinds.delete(packer)

      private

      # Active Record begins lazily and deferred; a batch knows that it will write.
      def begin_immediate = Database.raw.execute("UPDATE settings SET value = value WHERE name = ''")

      # Sorted by time; the order of the source stands among equal times.
      def in_order(rows)
        last = 0
        return rows if rows.all? { |row| last <= (last = row.time_us) }

        keys = rows.each_with_index.map { |row, index| (row.time_us * rows.size) + index }
        keys.sort!.map! { |key| rows[key % rows.size] }
      end

      # SQLite keeps the bytes as they are; only the label makes them text instead of a blob.
      def utf8(bytes) = bytes.frozen? ? bytes.dup.force_encoding(UTF8) : bytes.force_encoding(UTF8)

      def insert(rows, ids, kinds, source_id)
        Database.prepare(EVENT) do |event|
          Database.prepare(LINE) do |line|
            rows.each_with_index do |row, index|
              id = ids[index]
              kind_id = kinds[row.kind]
              text = utf8(row.body)
              # One by one: bind_params would look at the type of its arguments first, for every row.
              event.bind_param(1, id)
              event.bind_param(2, kind_id)
              event.bind_param(3, source_id)
              event.bind_param(4, row.line)
              event.bind_param(5, row.offset)
              event.bind_param(6, row.time_us - EventId.micros(id))
              event.bind_param(7, utf8(row.head))
              event.bind_param(8, text)
              event.bind_param(9, row.extra && utf8(row.extra))
              event.bind_param(10, row.spans)
              event.step
              event.reset!
              line.bind_param(1, id)
              line.bind_param(2, IndexText.compose(row.index_text ? utf8(row.index_text) : text, kind_id, row.severity))
              line.step
              line.reset!
            end
          end
        end
      end
    end
  end
end
