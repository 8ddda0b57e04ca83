# frozen_string_literal: true

module Northdrift
  module Store
    # The patterns of somebody who may not see everything: made of the templates alone that they see, as if there were
    # no others. What is open for the others alone is closed here. A pattern keeps the number that it has for all; of
    # several that are one for all, the first does, and the rest have numbers of their own.
    class SeenPatterns < KnownPatterns
      # Where those start.
      OWN = 1_000_000_000

      private

      # An older template may come into sight later.
      def next_state
        newest = SightReach.state.appearances
        newest == @now.newest ? @now : @now = snapshot(newest)
      end

      def snapshot(newest)
        rows = Database.rows("SELECT id, text, pattern_id FROM templates ORDER BY id")
        @tree = Patterns::Tree.new
        @found = {}
        rows.each { |id, text, _| place(id, text) }
        numbers = numbers(rows.to_h { |id, _, pattern| [id, pattern] })
        templates = @found.to_h { |first, (_, own)| [numbers[first], own.sort] }
        Snapshot.new(
          newest, @found.to_h { |first, (text, _)| [numbers[first], text] }, {},
          templates.flat_map { |number, own| own.map { |one| [one, number] } }.to_h, templates
        ).freeze
      end

      # As {Templates} does when lines come in.
      def place(id, text)
        known = @tree.place(text)
        if known
          @found[known.id][0] = known.text
          @found[known.id][1] << id
          return
        end

        @found[id] = [text, [id]]
        first, *others = @tree.join(@tree.add(id, text))
        others.each { |other| @found[first.id][1].concat(@found.delete(other.id)[1]) }
        @found[first.id][0] = first.text if first
      end

      # @param everybodys [Hash{Integer=>Integer}] pattern by template, for all
      # @return [Hash{Integer=>Integer}] number by first template
      def numbers(everybodys)
        taken = Set.new
        @found.keys.sort.to_h do |first|
          number = everybodys[first]
          [first, taken.add?(number) ? number : OWN + first]
        end
      end
    end
  end
end
