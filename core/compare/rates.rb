# frozen_string_literal: true

module Northdrift
  module Compare
    # Are two counts, each over a time of its own, of one rate? The exact test for the ratio of two Poisson rates: given
    # their sum, the first count is binomial with the share of its time (J. Przyborowski, H. Wilenski: "Homogeneity of
    # results in testing samples from Poisson series", Biometrika 31, 1940). Two-sided as R's poisson.test has it: all
    # outcomes count that are no likelier than the one seen.
    module Rates
      # Outcomes that are this little likelier count as equally likely, since numbers are rounded (R's binom.test).
      SLACK = 1 + 1e-7
      ROUNDS = 500
      TINY = 1e-300

      module_function

      # @param first [Integer] count
      # @param first_time [Numeric] length of its window
      # @param second [Integer]
      # @param second_time [Numeric]
      # @return [Float] natural logarithm of the p-value: the values of real changes are too small for a number
      def log_p(first, first_time, second, second_time)
        n = first + second
        return 0.0 if n.zero?

        share = first_time.fdiv(first_time + second_time)
        expected = n * share
        return 0.0 if first == expected

        below = first < expected
        mine = below ? log_share_below(first, n, share) : log_share_above(first, n, share)
        other = other_side(first, n, share, below)
        [log_sum(mine, other), 0.0].min
      end

      # The false discovery rate at which each is still taken for a change (Y. Benjamini, Y. Hochberg, J. R. Stat. Soc.
      # B 57, 1995), so that a table with a thousand rows is not full of chance.
      # @param log_ps [Array<Float>] natural logarithms of p-values
      # @return [Array<Float>] natural logarithms of the adjusted values, in the same order
      def adjusted(log_ps)
        size = log_ps.size
        least = 0.0
        result = Array.new(size)
        log_ps.each_with_index.sort_by { |log, index| [-log, index] }.each_with_index do |(log, index), place|
          least = [least, log + Math.log(size.fdiv(size - place))].min
          result[index] = least
        end
        result
      end

      # Outcomes on the other side of the expected one that are no likelier than the one seen.
      def other_side(seen, n, share, below)
        limit = log_density(seen, n, share) + Math.log(SLACK)
        mean = n * share
        if below
          from = (mean.ceil..n).bsearch { |k| log_density(k, n, share) <= limit }
          from ? log_share_above(from, n, share) : -Float::INFINITY
        else
          # Counted down from the expected outcome.
          down = (0..mean.floor).bsearch { |step| log_density(mean.floor - step, n, share) <= limit }
          down ? log_share_below(mean.floor - down, n, share) : -Float::INFINITY
        end
      end
      private_class_method :other_side

      def log_density(k, n, share)
        log_choose(n, k) + (k * Math.log(share)) + ((n - k) * Math.log(1 - share))
      end
      private_class_method :log_density

      def log_choose(n, k) = log_gamma(n + 1) - log_gamma(k + 1) - log_gamma(n - k + 1)
      private_class_method :log_choose

      def log_gamma(x) = Math.lgamma(x).first
      private_class_method :log_gamma

      # P(X <= k) = I(1 - p; n - k, k + 1)
      def log_share_below(k, n, share) = k >= n ? 0.0 : log_beta_share(n - k, k + 1, 1 - share)
      private_class_method :log_share_below

      # P(X >= k) = I(p; k, n - k + 1)
      def log_share_above(k, n, share) = k <= 0 ? 0.0 : log_beta_share(k, n - k + 1, share)
      private_class_method :log_share_above

      # Logarithm of the regularized incomplete beta function I(x; a, b), by its continued fraction (NIST Digital
      # Library of Mathematical Functions, 8.17.22), which converges quickly where x is below the mean.
      def log_beta_share(a, b, x)
        front = (a * Math.log(x)) + (b * Math.log(1 - x)) + log_gamma(a + b) - log_gamma(a) - log_gamma(b)
        return front - Math.log(a) + Math.log(fraction(a, b, x)) if x < (a + 1).fdiv(a + b + 2)

        rest = front - Math.log(b) + Math.log(fraction(b, a, 1 - x))
        Math.log([1 - Math.exp([rest, 0.0].min), TINY].max)
      end
      private_class_method :log_beta_share

      # Lentz's method for the continued fraction.
      def fraction(a, b, x)
        c = 1.0
        d = 1 / away(1 - ((a + b) * x / (a + 1.0)))
        value = d
        (1..ROUNDS).each do |m|
          even = m * (b - m) * x / ((a + (2 * m) - 1.0) * (a + (2 * m)))
          d = 1 / away(1 + (even * d))
          c = away(1 + (even / c))
          value *= d * c
          odd = -(a + m) * (a + b + m) * x / ((a + (2 * m)) * (a + (2 * m) + 1.0))
          d = 1 / away(1 + (odd * d))
          c = away(1 + (odd / c))
          step = d * c
          value *= step
          break if (step - 1).abs < 1e-15
        end
        value
      end
      private_class_method :fraction

      def away(value) = value.abs < TINY ? TINY : value
      private_class_method :away

      def log_sum(one, other)
        high, low = [one, other].minmax.reverse
        low == -Float::INFINITY ? high : high + Math.log(1 + Math.exp(low - high))
      end
      private_class_method :log_sum
    end
  end
end
