# frozen_string_literal: true

module Northdrift
  module Store
    # Templates of messages on their way in, and which pattern each belongs to. Used within write transactions.
    class Templates
      def initialize
        forget
      end

      # Forgets what is known (after a transaction that did not commit).
      def forget
        @ids = {}
        @tree = nil
      end

      # @param text [String] UTF-8, see {Patterns::Mask}
      # @return [Integer] id of the template, which is added when it is new
      def intern(text)
        @ids[text] ||= Database.value("SELECT id FROM templates WHERE text = ?", [text]) ||
                       Database.value("INSERT INTO templates (text, pattern_id) VALUES (?, ?) RETURNING id", [text, pattern(text)])
      end

      private

      def pattern(text)
        known = tree.place(text)
        return known.id.tap { |id| Database.rows("UPDATE patterns SET text = ? WHERE id = ? AND text <> ?", [known.text, id, known.text]) } if known

        id = Database.value("INSERT INTO patterns (text) VALUES (?) RETURNING id", [text])
        tree.add(id, text)
        id
      end

      # Another process may have opened patterns further; what is known here must not close them again.
      def tree
        version = Database.value("PRAGMA data_version")
        @tree = nil if version != @version
        @version = version
        @tree ||= Patterns::Tree.new.tap { |tree| Database.rows("SELECT id, text FROM patterns ORDER BY id").each { |id, text| tree.add(id, text) } }
      end
    end
  end
end
