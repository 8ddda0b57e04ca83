# frozen_string_literal: true

module Northdrift
  module Store
    # Notes which kinds, sources and templates come together, see {Sight}. They are few: most lines say nothing new.
    class Appearances
      KEPT = 500_000
      # Numbers of kinds and templates are fewer.
      BITS = 24
      ADD = "INSERT OR IGNORE INTO appearances (kind_id, source_id, template_id) "

      # Notes those of lines that are written already; called within a write transaction.
      # @param predicate [String] names the events
      # @param binds [Array]
      def self.add(predicate, binds)
        Database.rows("#{ADD} SELECT DISTINCT kind_id, source_id, template_id FROM events WHERE #{predicate}", binds)
      end

      def initialize
        forget
      end

      # Forgets what is known (after a transaction that did not commit).
      def forget = @known = Set.new

      # Called within the transaction.
      # @param source_id [Integer]
      # @param batch [Batch]
      # @param kinds [Hash{Integer=>Integer}] ids by the batch's numbers
      # @param templates [Hash{Integer=>Integer}] likewise
      def note(source_id, batch, kinds, templates)
        forget if @known.size > KEPT
        own = batch.templates
        batch.kinds.each_with_index.with_object({}) { |(kind, at), all| all[(kind << BITS) | own[at]] = true }
          .each_key do |key|
            kind = kinds[key >> BITS]
            template = templates[key & ((1 << BITS) - 1)]
            next unless @known.add?((((source_id << BITS) | kind) << BITS) | template)

            Database.rows("#{ADD} VALUES (?, ?, ?)", [kind, source_id, template])
          end
      end
    end
  end
end
