# frozen_string_literal: true

require "uri"
require "yaml"

module Northdrift
  module Boards
    # Boards to start with (starters.yml).
    module Starters
      # @!attribute name [String]
      # @!attribute says [String] what it is about
      # @!attribute needs [String] a find text: it has something to show where a line fits
      # @!attribute board [Board]
      Starter = Struct.new(:name, :says, :needs, :board)

      # What a card's question has.
      ASKED = %w[find measure kind].freeze

      # @param rows [Array<Hash{String=>Object}>] cards with a width and a height
      # @return [Array<Hash{String=>Object}>] one beside the other as far as there is room, then below
      def self.placed(rows)
        x = y = tall = 0
        rows.each_with_index.map do |row, at|
          if x + row["w"] > Card::COLUMNS
            y += tall
            x = tall = 0
          end
          place = { "x" => x, "y" => y, "w" => row["w"], "h" => row["h"] }
          x += row["w"]
          tall = [tall, row["h"]].max
          { "id" => "c#{at}", "title" => row["title"], "drawing" => row["drawing"], "place" => place,
            "query" => URI.encode_www_form(row.slice(*ASKED).reject { |_, text| text.empty? }) }
        end
      end
      private_class_method :placed

      # @return [Array<Starter>] in the order in which they are shown
      ALL = YAML.safe_load_file(File.join(__dir__, "starters.yml")).map do |row|
        board = Board.new("title" => row["title"], "tags" => ["starter"], "cards" => placed(row["cards"]))
        Starter.new(row["name"], row["says"], row["needs"], board)
      end.freeze
    end
  end
end
