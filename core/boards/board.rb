# frozen_string_literal: true

module Northdrift
  module Boards
    # What a board shows: cards in a grid, and of which time and which lines, where a card says nothing else.
    class Board
      KEYS = %w[title window compared find variables tags cards].freeze
      MOST_CARDS = 60
      MOST_VARIABLES = 10
      MOST_TAGS = 20
      MOST_TITLE = 200
      MOST_WORDS = 2000
      # What it shows where nobody says of which time.
      WINDOW = "last 24 hours"

      # @return [String]
      attr_reader :title
      # @return [String] words for the time that it is about, see {Windows::Words}
      attr_reader :window
      # @return [String] what it is compared with, as a question's link has it; empty: nothing
      attr_reader :compared
      # @return [String] a find text that narrows all cards
      attr_reader :find
      # @return [Array<Variable>]
      attr_reader :variables
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
        @compared = Card.text(given, "compared", most: MOST_TITLE).strip
        @variables = list(given, "variables", MOST_VARIABLES).map { |one| Variable.of(one) }
        if @variables.uniq(&:name).size < @variables.size
          raise Mistake.new("variables", "no two variables have the same name")
        end

        @tags = tags_of(given)
        @cards = list(given, "cards", MOST_CARDS).map { |card| Card.new(card) }
        raise Mistake.new("cards", "cards have an id each, and no two the same") if @cards.uniq(&:id).size < @cards.size
      end

      # @return [Hash{String=>Object}]
      def definition
        {
          "title" => title, "window" => window, "compared" => compared, "find" => find,
          "variables" => variables.map(&:definition), "tags" => tags, "cards" => cards.map(&:definition)
        }
      end

      # @param chosen [Hash{String=>String}] values of variables, by name; the others are as the board has them
      # @return [Array<String>] find texts that all cards are narrowed by
      def conditions(chosen = {})
        [find.strip.presence, *variables.map { |one| one.condition(chosen.fetch(one.name, one.value)) }].compact
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
