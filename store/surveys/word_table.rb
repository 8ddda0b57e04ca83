# frozen_string_literal: true

module Northdrift
  module Store
    # The words of a question's lines, with their change where it is compared.
    class WordTable < Survey
      # Words of one side that are weighed: the commonest. Rarer ones are of single lines.
      WEIGHED = 3000

      # @!attribute events [Integer] lines that have it
      # @!attribute before [Integer, nil] on the other side, and `expected` the same at this side's length
      Word = Struct.new(:word, :events, :before, :expected, :log_p, :change)

      # @return [Integer] lines
      attr_reader :total

      def initialize(question, against: nil)
        super
        @total = 0
        @words = Hash.new(0)
        @others = Hash.new(0)
      end

      # @return [Integer] different words
      def distinct = @words.size

      # @return [Array<Word>] the most surprising first when compared, the commonest otherwise
      def rows
        words = [@words, @others].flat_map { |counts| counts.max_by(WEIGHED) { |_, n| n }.map(&:first) }.uniq
        rows = words.map { |word| Word.new(word, @words.fetch(word, 0), *before(word)) }
        Compare::Change.judge(rows, *times) if @against
        rows.sort_by { |row| [row.log_p || 0, -row.events, row.word] }
      end

      private

      def task = :word_counts
      def options(_) = {}

      def before(word)
        n = @others.fetch(word, 0)
        [n, expected(n)] if @against
      end

      def take(result, side, _job)
        lines, words = result
        @total += lines if side == :question
        counts = side == :question ? @words : @others
        words.each { |word, n| counts[word] += n }
      end
    end
  end
end
