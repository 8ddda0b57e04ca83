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

      def in_order(rows)
        last = nil
        return rows if rows.all? { |row| (last.nil? || last <= row.time_us).tap { last = row.time_us } }

        rows.each_with_index.sort_by { |row, index| [row.time_us, index] }.map(&:first)
      end

      def insert(rows, ids, kinds, source_id)
        Database.prepare(EVENT) do |event|
          Database.prepare(LINE) do |line|
            rows.each_with_index do |row, index|
              id = ids[index]
              kind_id = kinds[row.kind]
              text = row.body.force_encoding(UTF8)
              event.bind_params(id, kind_id, source_id, row.line, row.offset, row.time_us - EventId.micros(id), row.head.dup.force_encoding(UTF8), text,
                                row.extra&.force_encoding(UTF8), row.spans)
              event.step
              event.reset!
              line.bind_params(id, IndexText.compose(row.index_text ? row.index_text.force_encoding(UTF8) : text, kind_id, row.severity))
              line.step
              line.reset!
            end
          end
        end
      end
    end
  end
end
