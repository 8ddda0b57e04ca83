# frozen_string_literal: true

module Northdrift
  module Store
    # {LineCounts} by hour, of which those that are known already are not counted again, see {HourMemory}.
    class HourlyCounts
      # In a shorter window nothing is kept.
      LONG_US = 12 * Rollup::HOUR

      # @param question [Question]
      # @param by [Array<String>] fields
      def initialize(question, by)
        @question = question
        @by = by
      end

      # What the roll-ups tell needs no memory; and patterns become others as more lines come in.
      # @return [Boolean]
      def worth?
        return false if Sight.current || @question.to_us - @question.from_us < LONG_US
        return false if [@question.spec, @by].to_s.include?("pattern")

        !(@question.told_by_counts? && LineCounts.new(@question, @by).without_look?)
      end

      # @yield after each piece; what the block raises stops the work
      # @return [Array<Hash{Integer=>Hash{Array=>Integer}}>] lines by hour since 1970 and values of the fields: of the
      #   whole hours, and of what is left at both ends
      def count(&tick)
        first = -(-@question.from_us / Rollup::HOUR)
        stop = @question.to_us / Rollup::HOUR
        key = [@question.spec.except(:from_us, :to_us), @by]
        known = HourMemory.current.recall(key, first...stop) do |from, to|
          of_part(from * Rollup::HOUR, to * Rollup::HOUR, &tick)
        end
        [known, of_part(@question.from_us, first * Rollup::HOUR, &tick),
         of_part(stop * Rollup::HOUR, @question.to_us, &tick)]
      end

      private

      def of_part(from_us, to_us, &)
        return {} if to_us <= from_us

        counts = LineCounts.new(@question.part(from_us, to_us), @by).count(start_us: 0, step_us: Rollup::HOUR, &)
        counts.each_with_object({}) { |((hour, *by), n), all| (all[hour] ||= {})[by] = n }
      end
    end
  end
end
