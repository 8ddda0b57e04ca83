# frozen_string_literal: true

module Northdrift
  module Unusual
    # How soon somebody should look at what is unusual: as it is bad, and as it is surprising.
    module Priority
      # A number from 0 to 100: so much of it is for how bad the lines are, the rest for the surprise.
      OF_SEVERITY = 60
      OF_SURPRISE = 40
      # By severity code, the share of the first.
      SHARES = [1.0, 1.0, 1.0, 0.85, 0.6, 0.3, 0.15, 0.05, 0.15].freeze
      # Where surprise is complete: what chance brings once in so many hours, as a power of ten.
      MOST_SURPRISE = { "pattern" => 2.5, "value" => 2.5, "more" => 20.0, "less" => 20.0 }.freeze
      # What is listed, unless another is chosen.
      LISTED = 40

      module_function

      # @param kind [String] key of {MOST_SURPRISE}
      # @param surprise [Float] negative decimal logarithm of the chance
      # @param severity [Integer] of the worst line
      # @return [Integer] 0 to 100
      def of(kind, surprise, severity)
        share = (surprise / MOST_SURPRISE.fetch(kind)).clamp(0.0, 1.0)
        ((OF_SEVERITY * SHARES.fetch(severity)) + (OF_SURPRISE * share)).round
      end

      # The chance that something new turns up within an hour, where so much that was new turned up before: events that
      # come independently (Poisson), at the rate of the time before; half of one stands for that none is not never.
      # @param before [Integer] how much that was new there was
      # @param hours [Integer] in how many hours
      # @return [Float] negative decimal logarithm
      def surprise_of_new(before, hours)
        rate = (before + 0.5) / hours
        -Math.log10(1 - Math.exp(-rate))
      end
    end
  end
end
