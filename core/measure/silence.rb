# frozen_string_literal: true

module Northdrift
  module Measure
    # A stretch in which a machine said nothing though it normally would: a gap that neither chance nor the machine's
    # habits of that hour explain.
    #
    # If lines came independently, gaps would be exponentially distributed (the waiting time of a Poisson process), and
    # of n gaps with mean m, one longer than m · ln(n / a) would turn up by chance in a share `a` of windows. Lines come
    # in bursts, so a gap must also be several times longer than nearly all its neighbours. Only neighbours count, and
    # of those before and after the quieter: at night a machine says less.
    module Silence
      # @!attribute machine [String]
      # @!attribute from_us [Integer] its last line before
      # @!attribute to_us [Integer] its first line after, or the end of what is known
      # @!attribute usual_us [Integer] a gap that nineteen of twenty of the neighbours do not exceed
      # @!attribute open [Boolean] whether it had not ended by then
      Found = Struct.new(:machine, :from_us, :to_us, :usual_us, :open, keyword_init: true)

      # Too few lines tell nothing about what is usual.
      FEWEST_GAPS = 20
      NEIGHBOURS = 40
      CHANCE = 0.01
      TIMES_USUAL = 2.5
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

        # The last gap, up to the end, may still be open.
        [*gaps, end_us - times_us.last].each_with_index.filter_map do |gap, index|
          next if gap < SHORTEST_US

          usual, limit = usual(gaps, index)
          next unless gap > limit

          Found.new(
            machine: machine, from_us: times_us[index], to_us: times_us[index + 1] || end_us, usual_us: usual,
            open: index == gaps.size
          )
        end
      end

      # @return [Array(Integer, Float)] the neighbours' usual gap, and the length from which a gap is a silence
      def usual(gaps, index)
        sides =
          [gaps[[index - NEIGHBOURS, 0].max...index], gaps[index + 1, NEIGHBOURS] || []].select do |side|
            side.size >= FEWEST_GAPS / 2
          end
        usual = sides.map { |side| side.sort[((side.size - 1) * QUANTILE).floor] }.max
        mean = sides.map { |side| side.sum.fdiv(side.size) }.max
        [usual, [mean * Math.log(gaps.size / CHANCE), usual * TIMES_USUAL, SHORTEST_US].max]
      end
      private_class_method :usual
    end
  end
end
