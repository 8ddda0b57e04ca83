# frozen_string_literal: true

module Northdrift
  module Patterns
    # Groups templates into patterns: a parse tree of fixed depth (P. He, J. Zhu, Z. Zheng, M. R. Lyu: "Drain: an online log
    # parsing approach with fixed depth tree", ICWS 2017), fed with templates instead of lines, since all lines of one template
    # belong together anyway. Templates meet when they have as many words, start with the same, and share enough of them;
    # where they differ, the pattern is open.
    class Tree
      # Words at the start that lead through the tree, as long as they have no open place.
      DEPTH = 2
      # Share of equal words above which a template belongs to a pattern (the paper's similarity threshold).
      SIMILARITY = 0.6
      # A node with more branches leads further words through one for all of them (the paper's maxChild).
      BRANCHES = 100
      # A leaf with so many patterns takes no more: a template joins the one that is most like it, however little.
      FULL = 60

      # @!attribute id [Integer]
      # @!attribute words [Array<String>]
      Pattern = Struct.new(:id, :words) do
        # @return [String]
        def text = words.join(" ")
      end

      def initialize
        @root = {}
      end

      # Takes a known pattern in.
      # @return [Pattern]
      def add(id, text)
        words = text.split
        Pattern.new(id, words).tap { |pattern| leaf(words) << pattern }
      end

      # Finds the pattern that a template belongs to, and opens the pattern where they differ.
      # @param template [String] UTF-8
      # @return [Pattern, nil] nil when it belongs to none
      def place(template)
        words = template.split
        patterns = leaf(words)
        best, likeness = patterns.map { |pattern| [pattern, similarity(pattern.words, words)] }.max_by(&:last)
        return if best.nil? || (likeness < SIMILARITY && patterns.size < FULL)

        best.words = best.words.zip(words).map { |mine, other| mine == other ? mine : Mask::OPEN }
        best
      end

      private

      def leaf(words)
        node = @root[words.size] ||= {}
        words.first(DEPTH).each do |word|
          word = Mask::OPEN if word.include?(Mask::OPEN) || (node.size >= BRANCHES && !node.key?(word))
          node = node[word] ||= {}
        end
        node[:patterns] ||= []
      end

      # Open places of both are no sign that they are alike, unless there is nothing else (the paper's simSeq counts
      # equal words only).
      def similarity(pattern, words)
        return 1.0 if words.empty?

        equal = fixed = 0
        pattern.each_with_index do |word, at|
          next if word == Mask::OPEN && words[at].include?(Mask::OPEN)

          fixed += 1
          equal += 1 if word == words[at]
        end
        fixed.zero? ? 1.0 : equal.fdiv(fixed)
      end
    end
  end
end
