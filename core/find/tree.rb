# frozen_string_literal: true

module Northdrift
  module Find
    # What a find text means: a tree of conditions on one event.
    module Tree
      All = Struct.new(:children)
      Any = Struct.new(:children)
      Not = Struct.new(:child)
      # True of every event: the empty find text.
      Everything = Class.new { def ==(other) = other.is_a?(self.class) }.new.freeze

      # A word as typed: its tokens in order, and where it has other characters too, just so.
      Word = Struct.new(:text)
      # Tokens in order, whatever stands between them.
      Phrase = Struct.new(:text)
      # Tokens of the text in order, the last of which may go on.
      Prefix = Struct.new(:text)
      # Text anywhere, also inside a token.
      Contains = Struct.new(:text)
      # A word with open places in it; `*` stands for any characters but white space.
      Glob = Struct.new(:text)

      # @!attribute field [String]
      # @!attribute operator [Symbol] :==, :exactly (what was typed in quotes: no open places, no units), :<, :<=, :>,
      #   :>=
      # @!attribute value [String] as typed
      Compare = Struct.new(:field, :operator, :value)
      # @!attribute pattern [String] RE2 syntax
      Matches = Struct.new(:field, :pattern)
      Has = Struct.new(:field)

      # @!attribute codes [Array<Integer>] severity codes that fit, ascending
      Severities = Struct.new(:codes)

      module_function

      # @return [Object] one node that means all of them
      def all(nodes)
        nodes = nodes.reject { |node| node == Everything }
        nodes.size > 1 ? All.new(nodes) : nodes.first || Everything
      end

      # Puts a condition in the place of those on the same field that must hold.
      # @param node [Object]
      # @param condition [Compare]
      # @return [Object] node
      def swap(node, condition)
        children = node.is_a?(All) ? node.children : [node]
        all(
          [
            *children.reject do |child|
              child.is_a?(Compare) && child.field == condition.field && EQUAL.include?(child.operator)
            end, condition
          ]
        )
      end

      EQUAL = %i[== exactly].freeze

      # @return [Array<Object>] a node and all below it
      def nodes(node)
        below =
          case node
          when All, Any then node.children
          when Not then [node.child]
          else []
          end
        [node, *below.flat_map { |child| nodes(child) }]
      end

      # @return [Object] one node that means any of them
      def any(nodes) = nodes.size > 1 ? Any.new(nodes) : nodes.first
    end
  end
end
