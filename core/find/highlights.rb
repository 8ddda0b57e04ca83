# frozen_string_literal: true

module Northdrift
  module Find
    # What of a find text can be pointed out in the lines that it finds: its words, as far as they are wanted (not what
    # stands under a `not`).
    module Highlights
      module_function

      # @param node [Object] of {Tree}
      # @return [Array<Hash>] "tokens" in order with "open" when the last may go on, or "text" that may stand anywhere,
      #   or "pattern" of a regular expression
      def of(node)
        case node
        when Tree::All, Tree::Any then node.children.flat_map { |child| of(child) }.uniq
        when Tree::Word, Tree::Phrase then tokens(node.text, false)
        when Tree::Prefix then tokens(node.text, true)
        when Tree::Contains then [{ "text" => node.text }]
        when Tree::Matches then %w[message text].include?(node.field) ? [{ "pattern" => node.pattern }] : []
        else []
        end
      end

      def tokens(text, open)
        tokens = Words.tokens(text)
        tokens.empty? ? [] : [{ "tokens" => tokens, "open" => open }]
      end
      private_class_method :tokens
    end
  end
end
