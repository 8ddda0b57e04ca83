# frozen_string_literal: true

module Northdrift
  module Unusual
    # What is usual in an hour: how many there were in the same hour of the weeks before, or, while less than three
    # weeks are known, in the same hour of the days before and those beside it. And how much hours scatter about that,
    # by which a count is judged, see {Tail}.
    class Baseline
      DAY = 24
      WEEK = 7 * DAY
      WEEKS = 8
      FEWEST_WEEKS = 3
      DAYS = 7
      # Before so many days are known nothing is unusual.
      FEWEST_DAYS = 3
      BESIDE = [-1, 0, 1].freeze
      # A count is out of its usual where chance alone would bring it less often than that. Some hundred patterns are
      # judged in each of 168 hours a week; with one in a million that is one by chance in about a year.
      CHANCE = 1e-6
      # And where it is so many times as large or as small, and there are so many lines: what is certain may be slight.
      TIMES = 3
      FEWEST_MORE = 10
      FEWEST_LESS = 20
      # Of the hours, those that are farthest out are left out when it is told how much they scatter: an incident is no
      # part of what is usual.
      LEFT_OUT = 0.01

      # @!attribute direction [String] more or less
      # @!attribute expected [Float] in that hour
      # @!attribute log_p [Float] natural logarithm of the chance of so many or more, so few or fewer
      Departure = Struct.new(:direction, :expected, :log_p)

      # @param counts [Hash{Integer=>Integer}] by hour since 1970; hours without a count had none
      # @param hour [Integer] that is judged
      # @param since [Integer] the first hour that is known
      def initialize(counts, hour, since)
        @counts = counts
        @hour = hour
        @since = since
        @before = like(hour).map { |one| counts.fetch(one, 0) }
      end

      # @return [Boolean] whether enough is known
      def known? = @hour - @since >= FEWEST_DAYS * DAY && @before.any?

      # @return [Float] mean of the hours before; half a line stands for that none is not never
      def expected = (@before.sum + 0.5) / @before.size

      # @param count [Integer] of that hour
      # @return [Departure, nil] nil where it is usual, or too little is known
      def departure(count)
        return unless known?

        more(count) || less(count)
      end

      # The variance as a multiple of the mean (Pearson's statistic over its degrees of freedom: P. McCullagh, J. A.
      # Nelder: "Generalized Linear Models", 1989, 4.5.2), and what is not known for certain of the mean itself.
      # @return [Float] 1 or more
      def dispersion = @dispersion ||= [scatter, 1.0].max * (1 + (1.0 / @before.size))

      private

      def more(count)
        return unless count >= FEWEST_MORE && count >= TIMES * expected

        judged("more", expected) { |dispersion| Tail.log_at_least(count, expected, dispersion) }
      end

      # What a burst raised is not missed afterwards.
      def less(count)
        usual = [expected, @before.sort[(@before.size - 1) / 2].to_f].min
        return unless usual >= FEWEST_LESS && count * TIMES <= usual

        judged("less", usual) { |dispersion| Tail.log_at_most(count, usual, dispersion) }
      end

      # What even Poisson's does not find unlikely need not be looked at closer.
      def judged(direction, usual)
        return if yield(1.0) > Math.log(CHANCE)

        log_p = yield(dispersion)
        Departure.new(direction, usual, log_p) if log_p <= Math.log(CHANCE)
      end

      def weekly?(hour) = hour - (FEWEST_WEEKS * WEEK) >= @since

      # @return [Array<Integer>] hours before it that are like it
      def like(hour)
        return (1..WEEKS).map { |week| hour - (week * WEEK) }.select { |one| one >= @since } if weekly?(hour)

        (1..DAYS).flat_map { |day| BESIDE.map { |beside| hour - (day * DAY) + beside } }
          .select { |one| one >= @since && one < hour }
      end

      def scatter
        weekly = weekly?(@hour)
        length = weekly ? WEEK : DAY
        hours = ([@hour - (weekly ? WEEKS * WEEK : DAYS * DAY), @since].max...@hour).to_a
        means = hours.group_by { |one| one % length }
          .transform_values { |some| (some.sum { |one| @counts.fetch(one, 0) } + 0.5) / some.size }
        far = hours.map { |one| ((@counts.fetch(one, 0) - means[one % length])**2) / means[one % length] }.sort
        kept = far.first((far.size * (1 - LEFT_OUT)).floor)
        free = kept.size - means.size
        free.positive? ? kept.sum / free : 1.0
      end
    end
  end
end
