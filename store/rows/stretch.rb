# frozen_string_literal: true

module Northdrift
  module Store
    # Where there is most to look at: of the stretches of time between gaps of more than a day, the one that has most
    # lines. Files whose times are far off otherwise make a view of everything a blank with two strokes.
    module Stretch
      DAY = 1440
      # A later stretch is taken that has so large a share of the lines of the largest.
      SHARE = 0.5
      FIRST = -(1 << 40)

      module_function

      # @return [Array(Integer, Integer)] microseconds between which it lies, to whole minutes; nil for an end that is
      #   that of all there is
      def main
        stretches = all
        return [nil, nil] if stretches.size < 2

        lines = stretches.map { |first, last| lines(first, last) }
        index = lines.rindex { |n| n >= lines.max * SHARE }
        first, last = stretches[index]
        [
          index.zero? ? nil : first * Rollup::MINUTE,
          index == stretches.size - 1 ? nil : (last + 1) * Rollup::MINUTE
        ]
      end

      # @param from_us [Integer]
      # @param to_us [Integer]
      # @return [Array<Array(Integer, Integer)>] where there is no line for more than a day, microseconds
      def gaps(from_us, to_us)
        inside = all(from_us / Rollup::MINUTE).take_while { |first, _| first * Rollup::MINUTE < to_us }
        ends = inside.flat_map { |first, last| [first * Rollup::MINUTE, (last + 1) * Rollup::MINUTE] }
        [from_us, *ends, to_us].each_slice(2).select { |from, to| to - from > DAY * Rollup::MINUTE }
      end

      # Goes from day to day by the index, so that it looks at few of the counts.
      # @return [Array<Array(Integer, Integer)>] first and last minute of each
      def all(since = FIRST)
        found = []
        minutes = Minutes.current
        minute = minutes.from(since)
        while minute
          last = minutes.before(minute + DAY)
          if found.any? && minute - found.last.last <= DAY then found.last[1] = last
          else found << [minute, last]
          end
          minute = minutes.from(last + 1)
        end
        found
      end
      private_class_method :all

      def lines(first, last)
        Question.new(from_us: first * Rollup::MINUTE, to_us: (last + 1) * Rollup::MINUTE).total
      end
      private_class_method :lines
    end
  end
end
