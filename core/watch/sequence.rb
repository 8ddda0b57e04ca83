# frozen_string_literal: true

module Northdrift
  module Watch
    # Whether something came so often, and then something else: at a line of `then` with time t it holds when at least
    # `least` lines of `first` have times in [t - within, t], and no line of `without` has a time from the earliest of
    # the last `least` of them on to t. It is told with the earliest of `first` in that time. That none came can be told
    # only when none can come any more.
    class Sequence
      # @param least [Integer]
      # @param within_us [Integer]
      # @param without [Boolean] whether there are lines that must not come between
      def initialize(least, within_us, without:)
        @least = least
        @within_us = within_us
        @without = without
        @lines = { first: [], then: [], without: [] }
      end

      # @param role [Symbol] :first, :then or :without
      # @return [Array<Array(Integer, Integer)>] see {Count#add}
      def add(time_us, role, _value = nil)
        times = @lines.fetch(role)
        times.insert(times.bsearch_index { |time| time > time_us } || times.size, time_us)
        return [] if @without || role == :without

        role == :then ? [held(time_us)].compact : later(time_us)
      end

      # @param before_us [Integer] nothing earlier comes any more
      # @return [Array<Array(Integer, Integer)>]
      def advance(before_us)
        told = []
        if @without
          due = @lines[:then].take_while { |time| time < before_us }
          told = due.uniq.filter_map { |time| held(time) }
        end
        @lines[:then].shift while @lines[:then].any? && @lines[:then].first < before_us
        oldest = before_us - @within_us
        %i[first without].each { |role| @lines[role].shift while @lines[role].any? && @lines[role].first < oldest }
        told
      end

      def empty? = @lines.each_value.all?(&:empty?)

      private

      # A late line of `first` may be what was missing.
      def later(time_us)
        @lines[:then].grep(time_us..time_us + @within_us).uniq.filter_map { |time| held(time) }
      end

      # @return [Array(Integer, Integer), nil]
      def held(moment)
        firsts = @lines[:first]
        last = firsts.bsearch_index { |time| time > moment } || firsts.size
        return if last < @least

        needed = firsts[last - @least]
        return if needed < moment - @within_us || between?(needed, moment)

        [firsts.bsearch { |time| time >= moment - @within_us }, moment]
      end

      def between?(from_us, to_us)
        found = @lines[:without].bsearch { |time| time >= from_us }
        !found.nil? && found <= to_us
      end
    end
  end
end
