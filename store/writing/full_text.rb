# frozen_string_literal: true

module Northdrift
  module Store
    # Fills the full-text index from the events table: one statement a batch, sorted by id, is several times faster than
    # a statement for each line, since FTS5 keeps what it collects in memory as long as ids rise.
    module FullText
      # What is indexed of an event: its text (or what stands in for it) and the marks of its kind and severity.
      TEXT = <<~SQL.freeze
        %<text>s || ' #{IndexText::KIND}' || kind_id ||
          CASE WHEN id & #{EventId::SEVERITY_MASK} <= #{IndexText::MARKED.end} THEN ' #{IndexText::SEVERITY}' || (id & #{EventId::SEVERITY_MASK}) ELSE '' END
      SQL
      PLAIN = format(TEXT, text: "body")
      SUBSTITUTED =
        format(TEXT, text: "coalesce((SELECT text FROM temp.index_texts WHERE index_texts.id = events.id), body)")

      RECOMPUTED = format(TEXT, text: "northdrift_index_text(#{Functions::BODY}, #{Functions::EXTRA})")

      module_function

      # @param batches [Array<Batch>]
      # @param ids [Array<Array<Integer>>] ids of their events
      # @param predicate [String] names all these events, which are in the table already
      # @param binds [Array]
      def add(batches, ids, predicate, binds)
        text = substitute(batches, ids) ? SUBSTITUTED : PLAIN
        Database.rows(
          "INSERT INTO lines (rowid, text) SELECT id, #{text} FROM events WHERE #{predicate} ORDER BY id", binds
        )
      end

      # Fills in events one by one, from what is in the table.
      # @param predicate [String] names events that are not in the index
      # @param binds [Array]
      def refill(predicate, binds)
        Database.rows(
          "INSERT INTO lines (rowid, text) SELECT id, #{RECOMPUTED} FROM events WHERE #{predicate} ORDER BY id", binds
        )
      end

      # A contentless table has to be told what it was given.
      # @param predicate [String] names events that are still in the table
      # @param binds [Array]
      def delete(predicate, binds)
        Database.rows(
          "INSERT INTO lines (lines, rowid, text) SELECT 'delete', id, #{RECOMPUTED} FROM events WHERE #{predicate} " \
          "ORDER BY id",
          binds
        )
      end

      def substitute(batches, ids)
        return false if batches.all? { |batch| batch.index_texts.empty? }

        Database.rows("CREATE TEMP TABLE IF NOT EXISTS index_texts (id INTEGER PRIMARY KEY, text TEXT)")
        Database.rows("DELETE FROM temp.index_texts")
        Database.prepare("INSERT INTO temp.index_texts VALUES (?, ?)") do |statement|
          batches.zip(ids) do |batch, own|
            batch.index_texts.each do |index, text|
              statement.bind_param(1, own[index])
              statement.bind_param(2, text.dup.force_encoding(Encoding::UTF_8))
              statement.step
              statement.reset!
            end
          end
        end
        true
      end
      private_class_method :substitute
    end
  end
end
