# frozen_string_literal: true

module Northdrift
  module Store
    # What the cards of a board show, of one time: equal questions are counted once.
    class BoardAnswers
      # @!attribute card [Boards::Card]
      # @!attribute question [Question]
      # @!attribute clause [Measure::Clause] as the card's drawing wants it
      Asked = Struct.new(:card, :question, :clause) do
        # @return [Object] the same for those that are counted together
        def key = [question.spec, clause]
      end

      # @param all [Array<Asked>]
      # @param utc_offset [Integer] seconds, for where days begin
      def initialize(all, utc_offset: 0)
        @all = all
        @utc_offset = utc_offset
      end

      # Those that are the least work come first.
      # @yieldparam ids [Array<String>] of cards
      # @yieldparam measurement [Measurement, nil]
      # @yieldparam error [Error, nil] why there is none
      def each
        together = @all.group_by(&:key).values.sort_by { |some| some.first.question.total }
        together.each do |some|
          asked = some.first
          ids = some.map { |one| one.card.id }
          measurement = begin
            Measurement.new(asked.question, clause: asked.clause, utc_offset: @utc_offset).count
          rescue Error => error
            yield ids, nil, error
            next
          end
          yield ids, measurement, nil
        end
      end
    end
  end
end
