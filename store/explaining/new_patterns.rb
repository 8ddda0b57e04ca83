# frozen_string_literal: true

module Northdrift
  module Store
    # Patterns that were never there before, of services that have been known for a while: of one that is new itself,
    # all is new, and says nothing.
    class NewPatterns
      # So long a service is learned.
      LEARN = Northdrift::Unusual::Baseline::FEWEST_DAYS * 24
      # So far back it is counted how much of a service was new.
      BEFORE = 7 * 24
      # So long a pattern is new.
      NEW_HOURS = 7 * 24

      # @param series [UnusualSeries]
      # @param hours [Range<Integer>] in which they began
      def initialize(series, hours)
        @series = series
        @hours = hours
      end

      # @param voices [Array<UnusualSeries::Voice>]
      # @return [Hash] machine and service, where it is one of them
      def self.who(voices)
        %i[machine service].to_h { |part| [part, voices.map(&part).uniq.then { |all| all.first if all.size == 1 }] }
      end

      # @return [Array<Array>] kind, subject and values of an {Oddity} but for its priority
      def found
        began = @series.began
        began.select { |_, hour| @hours.cover?(hour) }.filter_map { |pattern, hour| of(pattern, hour) }
      end

      private

      def of(pattern, hour)
        voices = @series.voices_of(pattern)
        known = voices.select { |voice| hour - @series.since.fetch(voice, hour) >= LEARN }
        return if known.empty?

        surprise = known.map { |voice| surprise(voice, hour) }.min
        lines, first_us, last_us = lines(pattern, hour)
        return if lines.zero?

        ["pattern", "pattern #{pattern}",
         { pattern_id: pattern, lines: lines, from_us: first_us, last_us: last_us, surprise: surprise,
           severity: @series.worst(pattern, hour..@hours.end), **self.class.who(voices) }]
      end

      # Where new ones come all the time, one more is no surprise.
      def surprise(voice, hour)
        first = [hour - BEFORE, @series.since[voice] + LEARN].max
        before = hours_of_new.fetch(voice, []).count { |one| one >= first && one < hour }
        Northdrift::Unusual::Priority.surprise_of_new(before, [hour - first, LEARN].max)
      end

      def hours_of_new
        @hours_of_new ||= @series.began.each_with_object({}) do |(pattern, hour), all|
          @series.voices_of(pattern).each { |voice| (all[voice] ||= []) << hour }
        end
      end

      # Those of the source that are off are among them: they are of one pattern.
      # @return [Array(Integer, Integer, Integer)] how many, and when the first and the last was
      def lines(pattern, hour)
        asked = Question.new(find: "pattern = P#{pattern}", from_us: hour * Rollup::HOUR, checked: false)
        total = asked.total
        return [0, 0, 0] if total.zero?

        [total, *[false, true].map { |last| asked.page(last: last, limit: 1).events.first.time_us }]
      end
    end
  end
end
