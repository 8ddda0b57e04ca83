# frozen_string_literal: true

module Northdrift
  module Watch
    # What a find text cannot be true without, and is soon looked for: some texts of which one must stand in the line,
    # or severities of which it must have one. So most of many rules are left aside at once.
    # @!attribute texts [Array<String>, nil] in lower case; nil where none is needed
    # @!attribute severities [Array<Integer>, nil] nil where it may have any
    Needle = Struct.new(:texts, :severities) do
      # @param node [Object] of {Find::Tree}
      # @return [Needle]
      def self.of(node)
        case node
        when Find::Tree::All then best(node.children.map { |child| of(child) })
        when Find::Tree::Any then either(node.children.map { |child| of(child) })
        when Find::Tree::Severities then new(nil, node.codes)
        else new(text_of(node)&.then { |text| [text.downcase] }, nil)
        end
      end

      # @param needles [Array<Needle>] all of which are needed
      # @return [Needle] the one that is found least, and the severities
      def self.best(needles)
        new(
          needles.filter_map(&:texts).max_by { |texts| [texts.map(&:size).min, -texts.size] },
          needles.filter_map(&:severities).reduce { |some, others| some & others }
        )
      end

      # @param needles [Array<Needle>] one of which is needed
      def self.either(needles)
        texts = needles.map(&:texts)
        severities = needles.map(&:severities)
        new((texts.flatten.uniq unless texts.include?(nil)), (severities.flatten.uniq unless severities.include?(nil)))
      end

      # @return [String, nil] that stands in each line that the node is true of, or in its machine or service
      def self.text_of(node)
        case node
        when Find::Tree::Word, Find::Tree::Phrase, Find::Tree::Prefix then Find::Words.tokens(node.text).max_by(&:size)
        when Find::Tree::Contains then node.text
        when Find::Tree::Matches then expression(node)
        when Find::Tree::Compare then name(node)
        end
      end

      # Fields have values that do not stand in the line as they are; the message does.
      def self.expression(node)
        Find::Literals.required(node.pattern).max_by(&:size) if %w[message text].include?(node.field)
      end

      # A name with open places is none; one in quotes has no others.
      def self.name(node)
        return unless %w[host.name service.name].include?(node.field) && Find::Tree::EQUAL.include?(node.operator)

        node.value unless node.value.include?("*")
      end
      private_class_method :best, :either, :text_of, :expression, :name
    end
  end
end
