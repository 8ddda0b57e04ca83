# frozen_string_literal: true

module Northdrift
  module Boards
    # One chart of a board: a question, what is measured of its lines, and how that is drawn; or a text.
    class Card
      KEYS = %w[id title drawing query window text place].freeze
      # Columns of the grid, and rows that a card may be high.
      COLUMNS = 12
      MOST_ROWS = 40
      MOST_TOP = 10_000
      ID = /\A[A-Za-z0-9_-]{1,40}\z/
      MOST_TITLE = 200
      MOST_QUERY = 8000
      MOST_TEXT = 10_000
      # What a question's link has that decides which lines answer it, and what is told of them; and of what kinds and
      # states entries and alerts are.
      ASKED = %w[find chip hide scope noise measure lanes by kind person text state].freeze

      # Where it stands: in columns and rows.
      Place =
        Struct.new(:x, :y, :w, :h) do
          def to_h = members.to_h { |name| [name.to_s, self[name]] }
        end
      SIZE = { "x" => 0, "y" => 0, "w" => 6, "h" => 6 }.freeze
      LIMITS = { "x" => 0...COLUMNS, "y" => 0..MOST_TOP, "w" => 1..COLUMNS, "h" => 1..MOST_ROWS }.freeze

      # @return [String] that it goes by on its board
      attr_reader :id
      # @return [String]
      attr_reader :title
      # @return [String] a key of {Drawing::ALL}
      attr_reader :kind
      # @return [String] the question as its link has it
      attr_reader :query
      # @return [String] words for its own time, see {Windows::Words}; empty: that of its board
      attr_reader :window
      # @return [String] Markdown
      attr_reader :text
      # @return [Place]
      attr_reader :place

      # @return [String]
      # @raise [Mistake]
      def self.text(given, name, usual = "", most:)
        value = given.fetch(name, usual)
        return value if value.is_a?(String) && value.size <= most

        raise Mistake.new(name, "#{name} is a text of no more than #{most} characters")
      end

      # @param given [Hash{String=>Object}]
      # @raise [Mistake] saying which part will not do
      def initialize(given)
        raise Mistake.new("cards", "a card is an object") unless given.is_a?(Hash)

        stray = given.keys - KEYS
        raise Mistake.new(stray.first, "a card has no #{stray.first}") if stray.any?

        @id = given["id"].to_s
        raise Mistake.new("id", "a card has an id of letters, digits, - and _") unless @id.match?(ID)

        @title = Card.text(given, "title", most: MOST_TITLE)
        @kind = given["drawing"].to_s
        Drawing::ALL.key?(@kind) or
          raise Mistake.new("drawing", "a card is drawn as one of #{Drawing::ALL.keys.join(', ')}")
        @query = Card.text(given, "query", most: MOST_QUERY)
        @window = Card.text(given, "window", most: MOST_TITLE).strip
        @text = Card.text(given, "text", most: MOST_TEXT)
        @place = place_of(given.fetch("place", {}))
      end

      # @return [Drawing]
      def drawing = Drawing::ALL.fetch(kind)

      # @return [Hash{String=>Array<String>}] what is asked, by the names of {ASKED}
      # @raise [Mistake]
      def asked
        pairs = URI.decode_www_form(query)
        unless pairs.flatten.all? { |text| text.valid_encoding? && !text.include?("\0") }
          raise Mistake.new("query", "query is no text in UTF-8")
        end

        ASKED.to_h { |name| [name, pairs.filter_map { |key, value| value if key == name }] }
      rescue ArgumentError
        raise Mistake.new("query", "query is a question as its link has it")
      end

      # @return [Hash{String=>Object}]
      def definition
        {
          "id" => id, "title" => title, "drawing" => kind, "query" => query, "window" => window, "text" => text,
          "place" => place.to_h
        }
      end

      private

      def place_of(given)
        unless given.is_a?(Hash) && (given.keys - SIZE.keys).empty?
          raise Mistake.new("place", "place has x, y, w and h")
        end

        all = SIZE.merge(given)
        LIMITS.each do |name, limits|
          value = all[name]
          next if value.is_a?(Integer) && limits.cover?(value)

          raise Mistake.new("place", "#{name} is a whole number from #{limits.begin} to #{limits.max}")
        end
        Place.new(*all.values_at("x", "y", "w", "h"))
      end
    end
  end
end
