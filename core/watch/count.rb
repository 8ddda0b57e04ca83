# frozen_string_literal: true

module Northdrift
  module Watch
    # Whether so many lines came within so long: at the time t of a line it holds when at least `least` lines have times
    # in (t - within, t]. Lines may come late and in any order: what they change of later moments is told, too.
    class Count
      # @param least [Integer]
      # @param within_us [Integer]
      def initialize(least, within_us)
        @least = least
        @within_us = within_us
        @times = []
      end

      # @param time_us [Integer] of a line
      # @return [Array<Array(Integer, Integer)>] moments at which it holds by this line: the first line that is counted,
      #   and the moment
      def add(time_us, _role = :lines, _value = nil)
        at = place(time_us)
        @times.insert(at, time_us)
        held = []
        while at < @times.size && @times[at] - time_us < @within_us
          first = at - @least + 1
          held << [@times[first], @times[at]] if first >= 0 && @times[at] - @times[first] < @within_us
          at += 1
        end
        held
      end

      # Nothing earlier comes any more.
      # @param before_us [Integer]
      # @return [Array] see {add}: what only waiting could tell; nothing here
      def advance(before_us)
        # A moment from then on needs `least` lines, the latest of those before among them.
        old = @times.bsearch_index { |time| time >= before_us } || @times.size
        @times.shift([old - @least + 1, 0].max)
        @times.shift while @times.any? && @times.first <= before_us - @within_us
        []
      end

      # @return [Boolean] whether it knows of nothing any more
      def empty? = @times.empty?

      private

      # Most lines are later than all before.
      def place(time_us)
        return @times.size if @times.empty? || @times.last <= time_us

        @times.bsearch_index { |time| time > time_us }
      end
    end
  end
end
