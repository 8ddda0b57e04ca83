# frozen_string_literal: true

require "re2"

module Northdrift
  module Watch
    # Finds those of many find texts that may be true of a line, all in one search: most are left aside by what each
    # needs ({Needle}).
    class Index
      # One find text of a rule.
      # @!attribute fields [Array<String>] that a line must have
      # @!attribute open [Boolean] whether it asks for what is told only when the line is stored
      Part = Struct.new(:rule, :role, :matcher, :fields, :open)
      # What a part may be told by: numbers of further texts that it needs, and severities.
      Choice = Struct.new(:part, :further, :severities) do
        def possible?(there, severity)
          (severities.nil? || severities.include?(severity)) && further.all? { |number| there.include?(number) }
        end
      end
      # What people say of machines, and the pattern, are told only then.
      TOLD_LATER = %w[pattern host.site host.role host.tags host.depends_on host.runs_on].freeze

      # @param rules [Array<Rule>]
      def initialize(rules)
        parts = rules.flat_map { |rule| rule.parts.map { |role, tree| part(rule, role, tree) } }
        marked, others = parts.partition { |_, needle| needle.texts }
        mark(marked)
        @others = (0..Severity::UNSET).map do |severity|
          others.select { |_, needle| needle.severities.nil? || needle.severities.include?(severity) }.map(&:first)
        end
      end

      # @param text [String] all texts of a line, its machine and its service
      # @param severity [Integer]
      # @return [Array<Part>]
      def parts(text, severity)
        found = @others[severity]
        @choices.empty? ? found : found + marked(text, severity)
      end

      private

      def part(rule, role, tree)
        needle = Needle.of(tree)
        asked = Find::Tree.nodes(tree).filter_map { |node| node.field if node.respond_to?(:field) }
        [Part.new(rule, role, Find::Matcher.new(tree), needle.fields, asked.intersect?(TOLD_LATER)), needle]
      end

      # A choice of a part is looked at where that of its texts stands which is the rarest, and the longest of those.
      def mark(parts)
        counts = parts.flat_map { |_, needle| needle.texts.flat_map(&:uniq) }.tally
        numbers = counts.keys.each_with_index.to_h
        @choices = Array.new(numbers.size) { [] }
        parts.each do |part, needle|
          needle.texts.each do |all|
            rarest = all.min_by { |text| [counts[text], -text.size] }
            further = (all - [rarest]).map { |text| numbers[text] }
            @choices[numbers[rarest]] << Choice.new(part, further, needle.severities)
          end
        end
        @marks = RE2::Set.new(:unanchored, case_sensitive: false, log_errors: false, max_mem: 1 << 26)
        numbers.each_key { |text| @marks.add(text) }
        @marks.compile if numbers.any?
      end

      def marked(text, severity)
        there = marks(text)
        return there if there.empty?

        there.flat_map { |number| @choices[number].select { |choice| choice.possible?(there, severity) }.map(&:part) }
          .uniq(&:object_id)
      end

      # Beyond ASCII, small letters may depend on what stands beside them: all are tried then, and so they are where the
      # search has no memory to tell.
      # @return [Array<Integer>] numbers of the texts that stand there
      def marks(text)
        return @all ||= @choices.each_index.to_a unless text.ascii_only?

        @marks.match(text)
      rescue RE2::Set::MatchError
        @all ||= @choices.each_index.to_a
      end
    end
  end
end
