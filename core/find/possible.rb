# frozen_string_literal: true

module Northdrift
  module Find
    # Says whether a find text can be true of a line of which only some fields are known: of a machine's lines, say,
    # before one of them is looked at. Conditions on other fields may hold or not (the logic of three values of S. C.
    # Kleene, 1938).
    class Possible
      # @param tree [Object] a node of {Tree}
      # @param fields [Array<String>] names of the fields that are known
      def initialize(tree, fields)
        @fields = fields
        @test = compile(tree)
      end

      # @param values [Hash{String=>Object}] by name of field; one that is not there has no value
      # @return [Boolean] false when it is true of no line with these
      def possible?(values) = truth(values) != false

      # @param values [Hash{String=>Object}]
      # @return [Boolean, nil] what it is for a line with these; nil where fields decide that are not known
      def truth(values)
        @test.call(Matcher::Subject.new(Severity::UNSET, "", nil, nil, "", -> { "" }, -> { values }))
      end

      private

      # @return [#call] that gives true, false, or nil where it is not known
      def compile(node)
        case node
        when Tree::All
          together(node.children, false)
        when Tree::Any
          together(node.children, true)
        when Tree::Not
          compile(node.child).then { |test| ->(subject) { negate(test.call(subject)) } }
        when Tree::Everything
          ->(_) { true }
        when Tree::Compare, Tree::Has, Tree::Matches
          @fields.include?(node.field) ? Matcher.new(node).method(:match?) : ->(_) {}
        else
          ->(_) {}
        end
      end

      # @param decisive [Boolean] what one of them says that settles it for all
      def together(nodes, decisive)
        tests = nodes.map { |node| compile(node) }
        lambda do |subject|
          answers = tests.map { |test| test.call(subject) }
          next decisive if answers.include?(decisive)

          answers.include?(nil) ? nil : !decisive
        end
      end

      def negate(answer) = answer.nil? ? nil : !answer
    end
  end
end
