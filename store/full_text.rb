# frozen_string_literal: true

module Northdrift
  module Store
    # Fills the full-text index from the events table: one statement a batch, sorted by id, is several times faster than
    # a statement for each line, since FTS5 keeps what it collects in memory as long as ids rise.
    module FullText
      # What is indexed of an event: its text (or what stands in for it) and the marks of its kind and severity.
      TEXT = <<~SQL.freeze
        %<text>s || '#{IndexText::GAP}#{IndexText::KIND}' || kind_id ||
          CASE WHEN id & #{EventId::SEVERITY_MASK} <= #{IndexText::MARKED.end} THEN ' #{IndexText::SEVERITY}' || (id & #{EventId::SEVERITY_MASK}) ELSE '' END
      SQL
      PLAIN = format(TEXT, text: "body")
      SUBSTITUTED = format(TEXT, text: "coalesce((SELECT text FROM temp.index_texts WHERE index_texts.id = events.id), body)")

      module_function

      # @param batch [Batch]
      # @param order [Array<Integer>] indexes of its events by id
      # @param ids [Array<Integer>] ascending
      # @param predicate [String] names its events, which are in the table already
      # @param binds [Array]
      def add(batch, order, ids, predicate, binds)
        text = substitute(batch, order, ids) ? SUBSTITUTED : PLAIN
        Database.rows("INSERT INTO lines (rowid, text) SELECT id, #{text} FROM events WHERE #{predicate} ORDER BY id", binds)
      end

      def substitute(batch, order, ids)
        return false if batch.index_texts.empty?

        Database.rows("CREATE TEMP TABLE IF NOT EXISTS index_texts (id INTEGER PRIMARY KEY, text TEXT)")
        Database.rows("DELETE FROM temp.index_texts")
        Database.prepare("INSERT INTO temp.index_texts VALUES (?, ?)") do |statement|
          order.each_with_index do |index, place|
            text = batch.index_texts[index] or next
            statement.bind_param(1, ids[place])
            statement.bind_param(2, text.dup.force_encoding(Encoding::UTF_8))
            statement.step
            statement.reset!
          end
        end
        true
      end
      private_class_method :substitute
    end
  end
end
