# frozen_string_literal: true

module Northdrift
  module Store
    # Fills the full-text index from the events table: one statement a batch, sorted by id, is several times faster than
    # a statement for each line, since FTS5 keeps what it collects in memory as long as ids rise.
    module FullText
      # What is indexed of an event: its text (or what stands in for it) and the marks of its kind and severity.
      TEXT = <<~SQL
        %<text>s || '#{IndexText::GAP}#{IndexText::KIND}' || kind_id ||
          CASE WHEN id & #{EventId::SEVERITY_MASK} <= #{IndexText::MARKED.end} THEN ' #{IndexText::SEVERITY}' || (id & #{EventId::SEVERITY_MASK}) ELSE '' END
      SQL
      PLAIN = format(TEXT, text: "body")
      SUBSTITUTED = format(TEXT, text: "coalesce((SELECT text FROM temp.index_texts WHERE index_texts.id = events.id), body)")

      module_function

      # @param batch [Batch] whose events are in the table already
      # @param order [Array<Integer>] their indexes by id
      # @param ids [Array<Integer>] ascending
      def add(batch, order, ids)
        return if ids.empty?

        text = substitute(batch, order, ids) ? SUBSTITUTED : PLAIN
        if alone?(ids)
          run("INSERT INTO lines (rowid, text) SELECT id, #{text} FROM events WHERE id BETWEEN ? AND ? ORDER BY id", [ids.first, ids.last])
        else
          run("INSERT INTO lines (rowid, text) SELECT id, #{text} FROM events WHERE id IN (SELECT value FROM json_each(?)) ORDER BY id",
              [Oj.dump(ids, mode: :strict)])
        end
      end

      # @return [Boolean] whether no other events lie between those of the batch
      def alone?(ids)
        Database.value("SELECT count(*) FROM (SELECT 1 FROM events WHERE id BETWEEN ? AND ? LIMIT ?)", [ids.first, ids.last, ids.size + 1]) == ids.size
      end
      private_class_method :alone?

      def substitute(batch, order, ids)
        return false if batch.index_texts.empty?

        run("CREATE TEMP TABLE IF NOT EXISTS index_texts (id INTEGER PRIMARY KEY, text TEXT)")
        run("DELETE FROM temp.index_texts")
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

      def run(sql, binds = []) = Database.rows(sql, binds)
      private_class_method :run
    end
  end
end
