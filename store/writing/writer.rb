# frozen_string_literal: true

module Northdrift
  module Store
    # Writes events in batches: rows, full-text index and roll-ups in one transaction, with whatever the caller adds
    # to it (how far the source has been read).
    class Writer
      COLUMNS = %w[id kind_id template_id line offset shift head body extra spans].freeze
      # Texts are bound as bytes and called text by the statement, which spares a look at their encoding.
      TEXTS = %w[head body extra].freeze
      # Rows that one statement takes: what a statement costs beside its rows is shared among them.
      ROWS = 32
      # @!attribute order [Array<Integer>] indexes in the batch, in the order in which they are written
      # @!attribute ids [Array<Integer>] in that order
      Insertion = Struct.new(:batch, :order, :ids, :kinds, :templates, :first_line)
      # The source is the first parameter, the same for all rows.
      EVENTS = [ROWS, 1].to_h do |rows|
        values = Array.new(rows) do |row|
          places =
            COLUMNS.each_with_index.map do |column, index|
              format(TEXTS.include?(column) ? "CAST(?%d AS TEXT)" : "?%d", (row * COLUMNS.size) + index + 2)
            end
          "(?1, #{places.join(', ')})"
        end
        [rows, "INSERT INTO events (source_id, #{COLUMNS.join(', ')}) VALUES #{values.join(', ')}"]
      end.freeze

      def initialize
        @kinds = {}.compare_by_identity
        @templates = {}.compare_by_identity
        @slots = Slots.new
        @patterns = Templates.new
        @appearances = Appearances.new
      end

      # Writes rows as {#write} would, and takes them back.
      # @param parts [Array<#batch>] without `settle`
      # @raise [StandardError] what stands in the way
      def try(parts)
        ActiveRecord::Base.transaction do
          tally = Tally.new
          ids = parts.map { |part| rows(part, tally) }
          tally.write
          index(parts.map(&:batch), ids)
          raise ActiveRecord::Rollback
        end
      ensure
        forget
      end

      # What is written of one batch. A part has `batch` ({Batch}), `fresh_kinds` and `fresh_templates` (see {Packer}),
      # `packer` (any object; the kinds go by its numbers), `source_id`, `first_line` (lines of the source before those
      # that the batch counts) and `settle`, which is called within the transaction with the ids of the events once
      # all rows are there.
      #
      # The full-text index writes what it collected whenever a statement follows that could fail, so it comes last:
      # fewer and larger pieces.
      # @param parts [Array<#batch>] in the order of their sources
      def write(parts)
        ActiveRecord::Base.transaction do
          tally = Tally.new
          ids = parts.map { |part| rows(part, tally) }
          tally.write
          parts.each_with_index { |part, place| part.settle(ids[place]) }
          index(parts.map(&:batch), ids) unless ids.all?(&:empty?)
        end
      rescue StandardError
        forget
        raise
      end

      private

      # What was noted in a transaction that did not commit.
      def forget
        @slots.forget
        @patterns.forget
        @appearances.forget
      end

      # @return [Array<Integer>] ids of the events, by their index in the batch
      def rows(part, tally)
        batch = part.batch
        kinds = @kinds[part.packer] ||= {}
        part.fresh_kinds.each { |number, *definition| kinds[number] = Kinds.intern(*definition) }
        order = order(batch.times)
        ids = @slots.assign(batch, order)
        templates = templates(part)
        insert(Insertion.new(batch, order, ids, kinds, templates, part.first_line), part.source_id)
        by_index =
          order.each_with_index.with_object(Array.new(ids.size)) { |(index, place), all| all[index] = ids[place] }
        tally.add(batch, by_index, kinds, templates)
        @appearances.note(part.source_id, batch, kinds, templates)
        Happenings.add(batch.happenings, by_index)
        SourceText.note(part.source_id, batch.lines, by_index, part.first_line)
        by_index
      end

      # @return [Hash{Integer=>Integer}] ids of templates by the packer's numbers
      def templates(part)
        known = @templates[part.packer] ||= {}
        part.fresh_templates.each { |number, text| known[number] = @patterns.intern(text) }
        known
      end

      def index(batches, ids)
        FullText.add(batches, ids, *written(ids.flatten.sort!))
      end

      # A predicate for the events with these ids: a range where no others lie between.
      # @return [Array(String, Array)]
      def written(ids)
        found =
          Database.value(
            "SELECT count(*) FROM (SELECT 1 FROM events WHERE id BETWEEN ? AND ? LIMIT ?)",
            [ids.first, ids.last, ids.size + 1]
          )
        return ["id BETWEEN ? AND ?", [ids.first, ids.last]] if found == ids.size

        ["id IN (SELECT value FROM json_each(?))", [Oj.dump(ids, mode: :strict)]]
      end

      # @return [Array<Integer>] indexes in order of time; the order of the source stands among equal times
      def order(times)
        last = times.first
        return (0...times.size).to_a if times.all? { |time| last <= (last = time) }

        # Counted from the earliest, so that time and index fit one machine word.
        size = times.size
        start = times.min
        times.each_with_index.map { |time, index| ((time - start) * size) + index }.sort!.map! { |key| key % size }
      end

      def insert(rows, source_id)
        place = 0
        [ROWS, 1].each do |many|
          Database.prepare(EVENTS[many]) do |statement|
            statement.bind_param(1, source_id)
            while place + many <= rows.order.size
              bind(statement, rows, place...(place + many))
              statement.step
              statement.reset!
              place += many
            end
          end
        end
      end

      # One by one: bind_params would look at the type of its arguments first, for every row.
      def bind(statement, rows, places)
        batch, order, ids, kinds, templates, first_line = *rows
        at = 1
        places.each do |place|
          index = order[place]
          id = ids[place]
          statement.bind_param(at + 1, id)
          statement.bind_param(at + 2, kinds[batch.kinds[index]])
          statement.bind_param(at + 3, templates[batch.templates[index]])
          statement.bind_param(at + 4, batch.lines[index] + first_line)
          statement.bind_param(at + 5, batch.offsets[index])
          statement.bind_param(at + 6, batch.times[index] - EventId.micros(id))
          statement.bind_param(at + 7, batch.heads[index])
          statement.bind_param(at + 8, batch.bodies[index])
          statement.bind_param(at + 9, batch.extras[index])
          statement.bind_param(at + 10, batch.spans[index])
          at += COLUMNS.size
        end
      end
    end
  end
end
