# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Notes which kinds come in which sources, and with which templates, see {Sight}. Of the latter, kinds that no sight
    # tells apart go by the first of them: so they are few, and most lines say nothing new.
    class Appearances
      KEPT = 500_000
      # Numbers of kinds and templates are fewer.
      BITS = 24
      VERSION = "appearances"
      MASK = (1 << BITS) - 1
      ADD = "INSERT OR IGNORE INTO appearances (kind_id, template_id, source_id) VALUES (?, ?, ?)"
      ADD_KIND = "INSERT OR IGNORE INTO kind_sources (kind_id, source_id) VALUES (?, ?)"

      # Notes those of lines that are written already; called within a write transaction.
      # @param predicate [String] names the events
      # @param binds [Array]
      def self.add(predicate, binds)
        { "appearances" => "template_id, kind_id, source_id", "kind_sources" => "kind_id, source_id" }
          .each do |table, columns|
            Database.rows(
              "INSERT OR IGNORE INTO #{table} (#{columns}) SELECT DISTINCT #{columns} FROM events WHERE #{predicate}",
              binds
            )
          end
        changed
      end

      # Says to those who keep something of them that there are more, see {SightReach}.
      def self.changed
        Database.rows(
          "INSERT INTO settings (name, value) VALUES (?, 1) ON CONFLICT DO UPDATE SET value = value + 1", [VERSION]
        )
      end

      # @param machine [String, nil]
      # @param service [String, nil]
      # @param traits [Hash] of a kind
      # @return [Array] the same for kinds that no sight tells apart, whatever becomes of their machine's name
      def self.voice(machine, service, traits)
        [machine, service, traits["constants"]&.slice(*Sight::FIELDS), traits["inferred"]&.include?("machine")]
      end

      def initialize
        forget
      end

      # Forgets what is known (after a transaction that did not commit).
      def forget
        @known = Set.new
        @known_kinds = Set.new
        @first = {}
        @firsts = {}
        @last = 0
      end

      # Called within the transaction.
      # @param source_id [Integer]
      # @param batch [Batch]
      # @param kinds [Hash{Integer=>Integer}] ids by the batch's numbers
      # @param templates [Hash{Integer=>Integer}] likewise
      def note(source_id, batch, kinds, templates)
        forget if @known.size > KEPT
        together = pairs(batch)
        fresh = together.filter_map do |key|
          row = [first(kinds[key >> BITS]), templates[key & MASK]]
          row if @known.add?((((source_id << BITS) | row[0]) << BITS) | row[1])
        end
        numbers = together.map { |key| key >> BITS }.uniq
        fresh_kinds = numbers.filter_map do |number|
          [kinds[number]] if @known_kinds.add?((source_id << BITS) | kinds[number])
        end
        add(ADD, fresh, source_id)
        add(ADD_KIND, fresh_kinds, source_id)
        self.class.changed if fresh.any? || fresh_kinds.any?
      end

      private

      # @return [Array<Integer>] numbers of kind and template in the batch, as one, each pair once
      def pairs(batch)
        templates = batch.templates
        seen = {}
        batch.kinds.each_with_index { |kind, at| seen[(kind << BITS) | templates[at]] = true }
        seen.keys
      end

      def first(kind_id) = @firsts[kind_id] || (read && @firsts.fetch(kind_id))

      def read
        Database.rows("SELECT id, machine, service, traits FROM kinds WHERE id > ? ORDER BY id", [@last])
          .each do |id, machine, service, traits|
            voice = self.class.voice(machine, service, Oj.load(traits, mode: :strict))
            @firsts[id] = @first[voice] ||= id
            @last = id
          end
      end

      def add(sql, rows, source_id)
        return if rows.empty?

        Database.prepare(sql) do |statement|
          rows.each do |row|
            statement.bind_params(*row, source_id)
            statement.step
            statement.reset!
          end
        end
      end
    end
  end
end
