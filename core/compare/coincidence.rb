# frozen_string_literal: true

module Northdrift
  module Compare
    # Do two things happen at the same time more often than by chance? The steps of time in which each happens are taken
    # as draws without replacement: Fisher's exact test, one-sided (R. A. Fisher: "On the interpretation of chi-squared
    # from contingency tables, and the calculation of P", J. R. Stat. Soc. 85, 1922).
    module Coincidence
      # Below this, what comes together is taken to belong together.
      CHANCE = 0.01

      module_function

      # @param first [Integer] steps with the first, one bit each
      # @param second [Integer] steps with the second
      # @param steps [Integer] of time in all
      # @return [Array(Integer, Float, Float)] steps with both, how many to expect by chance, and the p-value of so many
      def of(first, second, steps)
        firsts, seconds, both = [first, second, first & second].map { |bits| bits.digits(2).sum }
        ways = choose(steps, seconds).to_f
        p = (both..[firsts, seconds].min).sum { |k| (choose(firsts, k) * choose(steps - firsts, seconds - k)) / ways }
        [both, firsts * seconds.fdiv(steps), [p, 1.0].min]
      end

      # @param counts [Array<Integer>] by step
      # @return [Integer] steps with any, one bit each
      def bits(counts) = counts.each_with_index.sum { |n, step| n.positive? ? 1 << step : 0 }

      # Groups what comes together: each joins the first before it with which it coincides.
      # @param masks [Array<Integer>] steps of each, see {bits}
      # @param steps [Integer]
      # @return [Array<Integer>] for each the place of the first of its group
      def groups(masks, steps)
        leaders = []
        masks.each_with_index.map do |mask, place|
          leader = leaders.find { |other| of(masks[other], mask, steps).last < CHANCE }
          leader || place.tap { leaders << place }
        end
      end

      def choose(n, k)
        return 0 if k > n || k.negative?

        (1..[k, n - k].min).reduce(1) { |ways, i| ways * (n - i + 1) / i }
      end
      private_class_method :choose
    end
  end
end
