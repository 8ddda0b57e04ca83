# frozen_string_literal: true

module Northdrift
  module Server
    module Cards
      # What one card of a board shows. Those of a kind say what they tell (`told`), under which name (`NAME`), and by
      # which route somebody may be told of it (`ROUTE`).
      class Answer
        # Whether what it asks is about lines, whose fields are known.
        OF_LINES = true

        # @!attribute zone [ActiveSupport::TimeZone] of the reader
        # @!attribute utc_offset [Integer] seconds, for where days begin
        # @!attribute now_us [Integer]
        Reader = Struct.new(:zone, :utc_offset, :now_us)

        # @return [Northdrift::Boards::Card]
        attr_reader :card
        # @return [Store::Question]
        attr_reader :question
        # @return [Store::Question, nil] what it is compared with
        attr_reader :against

        # @param card [Northdrift::Boards::Card]
        # @param question [Store::Question]
        # @param against [Store::Question, nil]
        # @param reader [Reader]
        def initialize(card, question, against:, reader:)
          @card = card
          @question = question
          @against = against
          @reader = reader
        end

        # @return [Object] the same for cards that are counted together
        def key = [self.class, question.spec, question.from_us, question.to_us, against&.spec, *further]

        # @param events [Hash{Array(Integer, Integer)=>Integer}] about how many there are in a window
        # @return [Integer] about how much there is to look at
        def weight(events) = events[[question.from_us, question.to_us]]

        # @yield after each piece of the work; what the block raises stops it
        # @return [Hash{String=>Object}] its time, and what it tells
        def to_h(&)
          { "from_us" => question.from_us, "to_us" => question.to_us, self.class::NAME => told(&) }
        end

        private

        attr_reader :reader

        # What beside the question decides what it tells.
        def further = []

        # @return [String, nil] what a card's question has under a name
        def asked(name) = card.asked[name].first.presence
      end
    end
  end
end
