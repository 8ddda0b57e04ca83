# frozen_string_literal: true

module Northdrift
  module Boards
    # What a board shows: cards in a grid, and of which time and which lines, where a card says nothing else.
    class Board
      KEYS = %w[title window find tags cards].freeze
      MOST_CARDS = 60
      MOST_TAGS = 20
      MOST_TITLE = 200
      MOST_WORDS = 2000
      # What it shows where nobody says of which time.
      WINDOW = "last 24 hours"

      # @return [String]
      attr_reader :title
      # @return [String] words for the time that it is about, see {Windows::Words}
      attr_reader :window
      # @return [String] a find text that narrows all cards
      attr_reader :find
      # @return [Array<String>]
      attr_reader :tags
      # @return [Array<Card>]
      attr_reader :cards

      # @param given [Hash{String=>Object}]
      # @raise [Mistake] saying which part will not do
      def initialize(given)
        raise Mistake.new("definition", "a board is an object with a title and cards") unless given.is_a?(Hash)

        stray = given.keys - KEYS
        raise Mistake.new(stray.first, "a board has no #{stray.first}") if stray.any?

        @title = Card.text(given, "title", most: MOST_TITLE).strip
        raise Mistake.new("title", "a board has a title") if @title.empty?

        @window = Card.text(given, "window", WINDOW, most: MOST_TITLE)
        @find = Card.text(given, "find", most: MOST_WORDS)
        Find::Parser.parse(@find) unless @find.strip.empty?
        @tags = tags_of(given)
        @cards = list(given, "cards", MOST_CARDS).map { |card| Card.new(card) }
        raise Mistake.new("cards", "cards have an id each, and no two the same") if @cards.uniq(&:id).size < @cards.size
      end

      # @return [Hash{String=>Object}]
      def definition
        { "title" => title, "window" => window, "find" => find, "tags" => tags, "cards" => cards.map(&:definition) }
      end

      private

      def tags_of(given)
        tags = list(given, "tags", MOST_TAGS)
        raise Mistake.new("tags", "a tag is a text") unless tags.all?(String)

        tags.map(&:strip).reject(&:empty?).uniq
      end

      def list(given, name, most)
        list = given.fetch(name, [])
        return list if list.is_a?(Array) && list.size <= most

        raise Mistake.new(name, "#{name} are a list of no more than #{most}")
      end
    end
  end
end
