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
                       Database.value("INSERT INTO templates (text, pattern_id) VALUES (?, ?) RETURNING id",
                                      [text, pattern(text)])
      end

      private

      def pattern(text)
        known = tree.place(text)
        if known
          Database.rows("UPDATE patterns SET text = ? WHERE id = ? AND text <> ?", [known.text, known.id, known.text])
          return known.id
        end

        id = Database.value("INSERT INTO patterns (text) VALUES (?) RETURNING id", [text])
        first, *others = tree.join(tree.add(id, text))
        first ? joined(first, others.map(&:id)) : id
      end

      # Patterns turned out to be one: lines keep their templates, and the old numbers lead on to it.
      def joined(first, others)
        ids = others.join(",")
        Database.rows("UPDATE templates SET pattern_id = ? WHERE pattern_id IN (#{ids})", [first.id])
        Database.rows("UPDATE patterns SET joined_id = ? WHERE id IN (#{ids}) OR joined_id IN (#{ids})", [first.id])
        Database.rows("UPDATE patterns SET text = ? WHERE id = ?", [first.text, first.id])
        first.id
      end

      # Another process may have opened patterns further; what is known here must not close them again.
      def tree
        version = Database.value("PRAGMA data_version")
        @tree = nil if version != @version
        @version = version
        @tree ||= Patterns::Tree.new.tap do |tree|
          rows =
            Database.rows(
              "SELECT patterns.id, patterns.text, templates.text FROM patterns JOIN templates ON " \
              "templates.pattern_id = patterns.id ORDER BY patterns.id"
            )
          rows.group_by(&:first).each { |id, members| tree.add(id, members[0][1], templates: members.map(&:last)) }
        end
      end
    end
  end
end
