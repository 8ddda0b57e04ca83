# frozen_string_literal: true

module Northdrift
  module Store
    # One pattern of a question's lines, opened: what stands in its open places, and which patterns come at the same
    # time.
    class PatternDetail
      # Values kept of a place.
      MOST_VALUES = 100_000
      SHOWN = 12

      # @!attribute type [String] see {Measure::ValueType}
      # @!attribute distinct [Integer] different values; at least so many when there are more than are kept
      # @!attribute values [Array<Array(String, Integer)>] the commonest, with their lines
      # @!attribute numbers [Hash, nil] see {Measure::Summary}
      Place = Struct.new(:type, :distinct, :values, :numbers)

      # Gathers the values of the open places.
      class Values < Survey
        # @return [Array<Hash{String=>Integer}>] lines by value, for each open place
        attr_reader :places
        # @return [Integer] lines
        attr_reader :total

        def initialize(question, pattern)
          super(question)
          @pattern = pattern
          @total = 0
          @places = []
        end

        private

        def task = :open_places
        def options(_) = { pattern: @pattern }

        def take(result, _side, _job)
          lines, places = result
          @total += lines
          places.each_with_index do |values, index|
            known = @places[index] ||= {}
            values.each do |value, n|
              known[value] = (known[value] || 0) + n if known.key?(value) || known.size < MOST_VALUES
            end
          end
        end
      end

      # @return [Question]
      attr_reader :question

      # @param question [Question]
      # @param id [Integer] of the pattern
      def initialize(question, id)
        @question = question
        @id = id
        @table = PatternTable.new(question)
        @values = Values.new(question.narrowed("pattern = P#{id}"), id)
      end

      def against = nil
      def done = (@values.done + @table.done) / 2

      # @yield after each piece
      # @return [self]
      def count(&)
        @values.count(&)
        @table.count(&)
        self
      end

      # @return [Integer] lines
      def total = @values.total

      # @return [Array<Place>]
      def places
        @values.places.map do |counts|
          type, numbers = Measure::Summary.of("", counts)
          Place.new(type, counts.size, counts.max_by(SHOWN) { |_, n| n }.sort_by { |value, n| [-n, value.b] }, numbers)
        end
      end

      # @return [Array] see {PatternTable#together}
      def together = @table.done < 1 ? [] : @table.together(@id)
    end
  end
end
