# frozen_string_literal: true

module Northdrift
  module Unusual
    # How likely a count is, that is at least or at most so large, where so many are expected: of a Poisson variable,
    # or, where counts scatter more than that, of a negative binomial one with the same mean and a variance that is a
    # multiple of it (J. M. Ver Hoef, P. L. Boveng: "Quasi-Poisson vs. negative binomial regression", Ecology 88, 2007).
    module Tail
      # What adds less than this share of the sum ends it.
      ENOUGH = 1e-15
      MOST_TERMS = 1_000_000

      module_function

      # @param count [Integer]
      # @param mean [Float] that is expected, above 0
      # @param dispersion [Float] variance as a multiple of the mean; 1 is Poisson's
      # @return [Float] natural logarithm of P(X >= count): R's ppois(count - 1, mean, lower = FALSE, log = TRUE), or
      #   pnbinom(count - 1, size = mean / (dispersion - 1), mu = mean, lower = FALSE, log = TRUE)
      def log_at_least(count, mean, dispersion = 1.0)
        return 0.0 if count <= 0
        # The sum is of the shorter tail, and the other is what is left of 1.
        return log_rest(log_at_most(count - 1, mean, dispersion)) if count < mean

        sum_from(count, mean, dispersion) { |k, ratio| [k + 1, ratio.call(k)] }
      end

      # @return [Float] natural logarithm of P(X <= count): R's ppois and pnbinom with log = TRUE
      def log_at_most(count, mean, dispersion = 1.0)
        return -Float::INFINITY if count.negative?
        return log_rest(log_at_least(count + 1, mean, dispersion)) if count >= mean

        sum_from(count, mean, dispersion) { |k, ratio| [k - 1, k.zero? ? 0.0 : 1 / ratio.call(k - 1)] }
      end

      # @return [Float] natural logarithm of P(X = count)
      def log_density(count, mean, dispersion = 1.0)
        return (count * Math.log(mean)) - mean - log_gamma(count + 1) if poisson?(dispersion)

        size = size(mean, dispersion)
        log_gamma(count + size) - log_gamma(size) - log_gamma(count + 1) -
          (size * Math.log(dispersion)) + (count * Math.log(1 - (1.0 / dispersion)))
      end

      # From the given count on, each probability is had from the one before.
      def sum_from(count, mean, dispersion)
        ratio = ratio(mean, dispersion)
        sum = term = 1.0
        k = count
        MOST_TERMS.times do
          k, factor = yield(k, ratio)
          term *= factor
          sum += term
          break if term < sum * ENOUGH
        end
        [log_density(count, mean, dispersion) + Math.log(sum), 0.0].min
      end
      private_class_method :sum_from

      # @return [Proc] P(X = k + 1) / P(X = k)
      def ratio(mean, dispersion)
        return ->(k) { mean.fdiv(k + 1) } if poisson?(dispersion)

        size = size(mean, dispersion)
        share = 1 - (1.0 / dispersion)
        ->(k) { (k + size) / (k + 1) * share }
      end
      private_class_method :ratio

      # So near to 1 the two are one, and the size of the negative binomial is too large a number.
      def poisson?(dispersion) = dispersion < 1.0001
      private_class_method :poisson?

      def size(mean, dispersion) = mean.fdiv(dispersion - 1)
      private_class_method :size

      def log_gamma(x) = Math.lgamma(x).first
      private_class_method :log_gamma

      def log_rest(log) = log >= 0 ? -Float::INFINITY : Math.log(1 - Math.exp(log))
      private_class_method :log_rest
    end
  end
end
