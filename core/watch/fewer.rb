# frozen_string_literal: true

module Northdrift
  module Watch
    # Whether fewer lines came than should, within so long: at the moment at which a line of time t leaves the window,
    # t + within, it holds when fewer than `than` lines have times in (t, t + within]. What never wrote is not missed.
    # That none came can be told only when none can come any more.
    class Fewer
      # @param than [Integer]
      # @param within_us [Integer]
      def initialize(than, within_us)
        @than = than
        @within_us = within_us
        @times = []
      end

      # @param time_us [Integer] of a line
      # @return [Array] nothing yet
      def add(time_us, _role = :lines, _value = nil)
        at = @times.last && @times.last > time_us ? @times.bsearch_index { |time| time > time_us } : @times.size
        @times.insert(at, time_us)
        []
      end

      # @param before_us [Integer] nothing earlier comes any more
      # @return [Array<Array(Integer, Integer)>] see {Count#add}: the line that left, and the moment
      def advance(before_us)
        told = []
        while @times.any? && @times.first + @within_us < before_us
          first = @times.shift
          # Of lines of one time, the last speaks for all.
          next if @times.first == first

          told << [first, first + @within_us] if within(first) < @than
        end
        told
      end

      # @return [Boolean] whether it knows of nothing any more
      def empty? = @times.empty?

      private

      # @return [Integer] how many came behind it in time
      def within(first) = @times.bsearch_index { |time| time > first + @within_us } || @times.size
    end
  end
end
