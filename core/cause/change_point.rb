# frozen_string_literal: true

module Northdrift
  module Cause
    # When something began to come more often: the likeliest single rise of the rate of a Poisson process (likelihood
    # ratio for a change point; Akman and Raftery, "Asymptotic inference for a change-point Poisson process", Annals of
    # Statistics 14, 1986).
    module ChangePoint
      # By how much the logarithm of the likelihood must grow, beside the logarithm of the number of places where it was
      # tried.
      LEAST_GAIN = 5.0
      # The new rate must be there from its start: what stands alone before it is of the old one.
      START = 3

      # @!attribute step [Integer] the first with the new rate
      # @!attribute before [Float] per step
      # @!attribute after [Float] per step
      # @!attribute gain [Float] of the logarithm of the likelihood
      # @!attribute clear [Boolean] whether chance does not explain it
      Found = Struct.new(:step, :before, :after, :gain, :clear)

      module_function

      # @param counts [Array<Integer>] by step of time, all of one length
      # @return [Found, nil] nil when there is nothing, or the rate only falls
      def rise(counts)
        total = counts.sum
        return if total.zero?

        before = 0
        found = (0...counts.size).filter_map do |step|
          before += counts[step - 1] if step.positive?
          next if counts[step].zero? # the first step with the new rate has something of it

          candidate(counts.size, total, step, before)
        end
        best = found.max_by(&:gain) or return
        best.clear = best.gain >= LEAST_GAIN + Math.log(found.size)
        best.step = settled(counts, best)
        best
      end

      def settled(counts, found)
        starts = (found.step...counts.size).select { |step| counts[step].positive? }
        starts.find { |step| counts[step, START].sum >= START * found.after / 2 } || found.step
      end
      private_class_method :settled

      def candidate(steps, total, step, before)
        after = total - before
        rates = [step.zero? ? 0.0 : before.fdiv(step), after.fdiv(steps - step)]
        return if rates[1] <= rates[0]

        Found.new(
          step, *rates,
          likelihood(before, rates[0]) + likelihood(after, rates[1]) - likelihood(total, total.fdiv(steps)), false
        )
      end
      private_class_method :candidate

      def likelihood(count, rate) = count.zero? ? 0.0 : count * Math.log(rate)
      private_class_method :likelihood
    end
  end
end
