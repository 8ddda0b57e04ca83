# frozen_string_literal: true

module Northdrift
  module Store
    # Long stretches of a window in which there is no line at all are not drawn at their length: each takes a few steps,
    # whatever its time is.
    class Folds
      # What a gap must have of the window to be folded, and how many are; so many steps each takes.
      SHARE = 0.1
      MOST = 4
      STEPS = 7

      # @!attribute step [Integer] the first of its steps
      # @!attribute from_us [Integer]
      # @!attribute to_us [Integer]
      Fold = Struct.new(:step, :from_us, :to_us)

      # @return [Array<Fold>] in order of time
      attr_reader :folds

      # @param gaps [Array<Array(Integer, Integer)>] microseconds, see {Stretch.gaps}
      # @param start_us [Integer] where the first step starts
      # @param step_us [Integer] size of a step
      def initialize(gaps, start_us, step_us)
        @cuts = []
        @folds = []
        gaps.each do |from_us, to_us|
          first = -((start_us - from_us) / step_us)
          last = (to_us - start_us) / step_us
          next if last - first <= STEPS

          @folds << Fold.new(first - left_out, start_us + (first * step_us), start_us + (last * step_us))
          @cuts << [first, last, last - first - STEPS]
        end
      end

      # @return [Array<Array(Integer, Integer)>] those of a window's gaps that are worth it
      def self.worth(gaps, from_us, to_us)
        large = gaps.select { |from, to| to - from > SHARE * (to_us - from_us) }
        large.max_by(MOST) { |from, to| to - from }.sort
      end

      # @return [Integer] steps that are not drawn
      def left_out = @cuts.sum(&:last)

      # @param step [Integer] as if nothing were folded
      # @return [Integer] where it is drawn
      def place(step)
        @cuts.reduce(step) do |place, (first, last, left_out)|
          if step >= last then place - left_out
          else step > first ? place - (step - first) : place
          end
        end
      end
    end
  end
end
