# frozen_string_literal: true

module Northdrift
  module Measure
    # A stretch in which a machine said nothing though it normally would: a gap many times longer than nearly all of the
    # machine's gaps.
    module Silence
      # @!attribute machine [String]
      # @!attribute from_us [Integer] its last line before
      # @!attribute to_us [Integer] its first line after, or the end of what is known
      # @!attribute usual_us [Integer] a gap that nineteen of twenty do not exceed
      # @!attribute open [Boolean] whether it had not ended by then
      Found = Struct.new(:machine, :from_us, :to_us, :usual_us, :open, keyword_init: true)

      # Too few lines tell nothing about what is usual.
      FEWEST_GAPS = 20
      TIMES_USUAL = 6
      SHORTEST_US = 20 * 1_000_000
      QUANTILE = 0.95

      module_function

      # @param machine [String]
      # @param times_us [Array<Integer>] when the machine spoke, ascending
      # @param end_us [Integer] end of the window
      # @return [Array<Found>] in order of time
      def in_times(machine, times_us, end_us)
        gaps = times_us.each_cons(2).map { |before, after| after - before }
        return [] if gaps.size < FEWEST_GAPS

        usual = gaps.sort[((gaps.size - 1) * QUANTILE).floor]
        limit = [usual * TIMES_USUAL, SHORTEST_US].max
        found = gaps.each_index.select { |index| gaps[index] > limit }.map do |index|
          Found.new(machine: machine, from_us: times_us[index], to_us: times_us[index + 1], usual_us: usual, open: false)
        end
        found << Found.new(machine: machine, from_us: times_us.last, to_us: end_us, usual_us: usual, open: true) if end_us - times_us.last > limit
        found
      end
    end
  end
end
