# frozen_string_literal: true

require "re2"

module Northdrift
  module Watch
    # What a find text cannot be true without, and is soon looked for: patterns that a line must match, or severities of
    # which it must have one. So most of many rules are left aside at once.
    # @!attribute texts [Array<Array<String>>, nil] RE2 syntax, in any case, for lines of ASCII: all of one of them are
    #   needed; nil where none is
    # @!attribute severities [Array<Integer>, nil] nil where it may have any
    # @!attribute fields [Array<String>] that it must have
    Needle = Struct.new(:texts, :severities, :fields)

    class Needle
      # What each line has, or is told of it otherwise.
      ALWAYS = %w[severity message text host.name service.name source reader].freeze

      # @param node [Object] of {Find::Tree}
      # @return [Needle]
      def self.of(node)
        case node
        when Find::Tree::All then all(node.children.map { |child| of(child) })
        when Find::Tree::Any then any(node.children.map { |child| of(child) })
        when Find::Tree::Severities then new(nil, node.codes, [])
        else
          found = texts_of(node).uniq
          new(found.empty? ? nil : [found], nil, fields_of(node))
        end
      end

      # @return [Array<String>]
      def self.fields_of(node)
        case node
        when Find::Tree::Compare, Find::Tree::Has, Find::Tree::Matches then [node.field] - ALWAYS
        else []
        end
      end

      # Where several are needed that each have a choice, one of them is enough to leave most lines aside.
      def self.all(needles)
        texts = needles.filter_map(&:texts)
        sure, open = texts.partition(&:one?)
        new(
          sure.any? ? [sure.flatten.uniq] : open.min_by(&:size),
          needles.filter_map(&:severities).reduce { |some, others| some & others }, needles.flat_map(&:fields).uniq
        )
      end

      def self.any(needles)
        texts = needles.map(&:texts)
        severities = needles.map(&:severities)
        new((texts.flatten(1).uniq unless texts.include?(nil)),
            (severities.flatten.uniq unless severities.include?(nil)), needles.map(&:fields).reduce(:&))
      end

      # Between the words of a phrase, see {Find::Words}.
      APART = "[^0-9A-Za-z_]+"

      # @return [Array<String>] patterns of what stands in each line that the node is true of, or in its machine or
      #   service
      def self.texts_of(node)
        case node
        when Find::Tree::Word, Find::Tree::Phrase then words(node.text, "\\b")
        when Find::Tree::Prefix then words(node.text, "")
        when Find::Tree::Contains then [literal(node.text)]
        when Find::Tree::Matches then expression(node).map { |text| literal(text) }
        when Find::Tree::Compare then name(node).map { |text| literal(text) }
        else []
        end
      end

      def self.words(text, ending)
        tokens = Find::Words.tokens(text)
        tokens.empty? ? [] : ["\\b#{tokens.map { |token| literal(token) }.join(APART)}#{ending}"]
      end

      def self.literal(text) = RE2::Regexp.escape(text.downcase)

      # Fields have values that do not stand in the line as they are; the message does.
      def self.expression(node)
        %w[message text].include?(node.field) ? Find::Literals.required(node.pattern) : []
      end

      # A name with open places is none.
      def self.name(node)
        return [] unless %w[host.name service.name].include?(node.field) && Find::Tree::EQUAL.include?(node.operator)

        node.value.empty? || node.value.include?("*") ? [] : [node.value]
      end
      private_class_method :all, :any, :texts_of, :fields_of, :expression, :name, :words, :literal
    end
  end
end
