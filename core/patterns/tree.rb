# frozen_string_literal: true

module Northdrift
  module Patterns
    # Groups templates into patterns, one after another as they come: a parse tree whose leaves have the templates of as
    # many words (after P. He, J. Zhu, Z. Zheng, M. R. Lyu: "Drain: an online log parsing approach with fixed depth
    # tree", ICWS 2017), fed with templates instead of lines, since all lines of one template belong together anyway.
    #
    # Other than there, templates are not joined by the share of equal words: "entered blocking state" and "entered
    # disabled state" share nearly all and are two things. They are joined where they differ in one word alone, and that
    # word has been seen to take many forms, or is open in one of them: then it is open in all, and the patterns turn
    # out to be one. So the patterns hardly depend on the order in which templates come. A template that starts with the
    # message's own number belongs to that number.
    class Tree
      # Forms that a word must take to be an open place.
      FORMS = 12
      # Equal words beside which a word may stand for what is open elsewhere.
      SURE = 2
      # With so many patterns of as many words, a template joins the one that is most like it, however little.
      FULL = 2000
      # Stands for a word that may be any.
      ANY = "\0"

      # @!attribute id [Integer]
      # @!attribute words [Array<String>]
      # @!attribute opened [Array<Integer>] places where templates have different words, ascending; elsewhere, open
      #   stands in all of them
      Pattern = Struct.new(:id, :words, :opened) do
        # @return [String]
        def text = words.join(" ")

        # @return [Boolean] whether a template is of this pattern
        def fits?(others)
          words.size == others.size &&
            words.each_with_index.all? { |word, at| word == others[at] || opened.include?(at) }
        end
      end

      # Patterns of as many words, or of one number.
      #
      # @!attribute all [Array<Pattern>]
      # @!attribute plain [Hash{Array<String>=>Pattern}] those that no place was opened in, by their words
      # @!attribute opened [Array<Pattern>] the others
      # @!attribute near [Hash{Integer=>Array<Pattern>}] by their words but for one
      Leaf = Struct.new(:all, :plain, :opened, :near)

      def initialize
        @leaves =
          Hash.new { |leaves, key| leaves[key] = Leaf.new([], {}, [], Hash.new { |near, words| near[words] = [] }) }
      end

      # Takes a known pattern in.
      # @param text [String]
      # @param templates [Array<String>] of the pattern; its text alone when it is new
      # @return [Pattern]
      def add(id, text, templates: [text])
        words = text.split
        members = templates.map(&:split)
        opened =
          words.each_index.select { |at| words[at] == Mask::OPEN && members.any? { |member| member[at] != Mask::OPEN } }
        Pattern.new(id, words, opened).tap { |pattern| take_in(leaf(words), pattern) }
      end

      # Finds the pattern that a template belongs to.
      # @param template [String] UTF-8
      # @return [Pattern, nil] nil when it belongs to none; a pattern of a message's number may have been opened for it
      def place(template)
        words = template.split
        leaf = leaf(words)
        if Mask::CODE.match?(words.first.to_s)
          return leaf.all.first && open(leaf, leaf.all.first, common(leaf.all.first.words, words))
        end

        leaf.plain[words] || leaf.opened.find { |pattern| pattern.fits?(words) } ||
          (full(leaf, words) if leaf.all.size >= FULL)
      end

      # Patterns that turned out to be one, now that this one is there.
      # @param pattern [Pattern] just added
      # @return [Array<Pattern>] the one that stands for all first, then those that it takes in; none when there are
      #   none
      def join(pattern)
        leaf = leaf(pattern.words)
        pattern.words.each_index do |at|
          next if pattern.opened.include?(at)

          alike = leaf.near[nearness(pattern, at)].select { |other| differ_at?(pattern, other, at) }
          return merge(leaf, alike, at) if one?(alike, at)
        end
        []
      end

      private

      # Templates meet that have the same number, or as many words.
      def leaf(words) = @leaves[Mask::CODE.match?(words.first.to_s) ? words.first : words.size]

      def take_in(leaf, pattern)
        leaf.all << pattern
        pattern.opened.empty? ? leaf.plain[pattern.words] = pattern : leaf.opened << pattern
        each_nearness(pattern) { |key| leaf.near[key] << pattern }
      end

      def take_out(leaf, pattern)
        leaf.all.delete(pattern)
        leaf.plain.delete(pattern.words)
        leaf.opened.delete(pattern)
        each_nearness(pattern) { |key| leaf.near[key].delete(pattern) }
      end

      def each_nearness(pattern)
        pattern.words.each_index { |at| yield nearness(pattern, at) unless pattern.opened.include?(at) }
      end

      # What patterns have in common that differ in one place alone.
      def nearness(pattern, place)
        words = pattern.words.dup
        words[place] = ANY
        pattern.opened.each { |at| words[at] = ANY + ANY }
        words.hash
      end

      # Whether two patterns are the same but for one word.
      def differ_at?(pattern, other, place)
        pattern.opened == other.opened &&
          pattern.words.each_with_index.all? { |word, at| at == place || word == other.words[at] }
      end

      # Whether patterns that differ in one word are one: it takes many forms, or is open in one of them and all else is
      # plain.
      def one?(alike, place)
        forms = alike.map { |pattern| pattern.words[place] }.uniq
        return true if forms.size >= FORMS

        forms.size > 1 && forms.include?(Mask::OPEN) &&
          alike.first.words.each_with_index.count { |word, at| at != place && word.match?(/[[:alpha:]]{2}/) } >= SURE
      end

      def merge(leaf, alike, place)
        first, *rest = alike.sort_by(&:id)
        open(leaf, first, first.words.dup.tap { |words| words[place] = Mask::OPEN }, [place])
        # What now fits the open one is part of it.
        rest |= leaf.all.select { |pattern| !pattern.equal?(first) && first.fits?(pattern.words) }
        rest.each { |pattern| take_out(leaf, pattern) }
        # Opening it may have made further ones alike.
        further = join(first)
        further.empty? ? [first, *rest] : [further.first, *(further.drop(1) | rest)]
      end

      # @param places [Array<Integer>] that are opened though they may stand open already
      def open(leaf, pattern, words, places = [])
        newly = words.each_index.select { |at| words[at] == Mask::OPEN && pattern.words[at] != Mask::OPEN }
        return pattern if newly.empty? && places.empty? && words == pattern.words

        take_out(leaf, pattern)
        pattern.opened = (pattern.opened | newly | places).sort
        pattern.words = words
        take_in(leaf, pattern)
        pattern
      end

      def full(leaf, words)
        best = leaf.all.max_by { |pattern| pattern.words.zip(words).count { |mine, other| mine == other } }
        open(leaf, best, best.words.zip(words).map { |mine, other| mine == other ? mine : Mask::OPEN })
      end

      # What two templates have in common at their start and end.
      def common(one, other)
        return one.zip(other).map { |mine, theirs| mine == theirs ? mine : Mask::OPEN } if one.size == other.size

        shorter = [one.size, other.size].min
        from = (0...shorter).take_while { |at| one[at] == other[at] }.size
        to = (1..(shorter - from)).take_while { |back| one[-back] == other[-back] }.size
        [*one.first(from), Mask::OPEN, *one.last(to)]
      end
    end
  end
end
