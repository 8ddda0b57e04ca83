# frozen_string_literal: true

module Northdrift
  module Store
    # All patterns, kept in memory, and the templates that belong to each. Of patterns that turned out to be one, all
    # numbers name the same. Threads share them: a later state takes the place of the one before as a whole.
    class KnownPatterns
      # As {Text.display} writes them.
      ESCAPES = /\\x\h{2}|\\u\{\h+\}/

      # @return [KnownPatterns] those of the open database
      def self.current = Sight.kept(:patterns, @current ||= new) { SeenPatterns.new }.refresh

      # To be said when another database is opened.
      def self.forget = @current = nil

      # @param name [String] as it stands in a find text: P12
      # @return [Integer]
      def self.id(name) = name[1..].to_i

      # All patterns at a moment.
      # @!attribute newest [Integer] id of the newest template
      # @!attribute texts [Hash{Integer=>String}] by pattern
      # @!attribute joined [Hash{Integer=>Integer}] what a pattern goes by now
      # @!attribute of [Hash{Integer=>Integer}] pattern by template
      # @!attribute templates [Hash{Integer=>Array<Integer>}] by pattern
      Snapshot = Struct.new(:newest, :texts, :joined, :of, :templates)

      def initialize
        @now = Snapshot.new(nil, {}, {}, {}, {}).freeze
      end

      # A pattern's text changes only when a template is added to it.
      # @return [self]
      def refresh
        next_state
        self
      end

      # @param template_id [Integer]
      # @return [Integer] id of its pattern
      def of(template_id) = @now.of[template_id] || next_state.of.fetch(template_id)

      # @param id [Integer]
      # @return [Array<Integer>] ids of its templates; none when there is no such pattern
      def templates(id) = @now.then { |all| all.templates.fetch(all.joined.fetch(id, id), []) }

      # @param id [Integer]
      # @return [String, nil] fixed words, with {Patterns::Mask::OPEN} for the open places
      def text(id) = @now.then { |all| all.texts[all.joined.fetch(id, id)] }

      # @param id [Integer] number that it had or has
      # @return [Integer] number that it goes by now
      def now(id) = @now.joined.fetch(id, id)

      # @param id [Integer]
      # @return [Array<String>] the longest words that the index has of every line of the pattern; escapes stand for
      #   bytes that are no words there
      def words(id, most: 4)
        Find::Words.tokens(text(id).to_s.gsub(ESCAPES, " ")).select(&:ascii_only?).uniq.max_by(most, &:length)
      end

      private

      # Templates are read before the patterns that they are of: another process may add some of both meanwhile.
      def next_state
        newest = Database.value("SELECT max(id) FROM templates").to_i
        return @now if newest == @now.newest

        of = Database.rows("SELECT id, pattern_id FROM templates").to_h
        joined = Database.rows("SELECT id, joined_id FROM patterns WHERE joined_id IS NOT NULL").to_h
        texts = Database.rows("SELECT id, text FROM patterns").to_h
        @now = Snapshot.new(newest, texts, joined, of, of.keys.group_by { |template| of[template] }).freeze
      end
    end
  end
end
