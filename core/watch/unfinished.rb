# frozen_string_literal: true

module Northdrift
  module Watch
    # Whether an operation never ended: a line that begins it has a time t, and none that ends it, of the same
    # operation, has a time in [t, t + within]. It is told of the moment t + within, when none can come any more.
    class Unfinished
      # @param within_us [Integer]
      def initialize(within_us)
        @within_us = within_us
        @begun = Hash.new { |all, operation| all[operation] = [] }
        @ended = Hash.new { |all, operation| all[operation] = [] }
      end

      # @param role [Symbol] :first or :then
      # @param operation [Object] what joins them
      # @return [Array] nothing yet
      def add(time_us, role, operation)
        (role == :first ? @begun : @ended)[operation] << time_us unless operation.nil?
        []
      end

      # @param before_us [Integer] nothing earlier comes any more
      # @return [Array<Array(Integer, Integer)>] see {Count#add}: where it began, and the moment
      def advance(before_us)
        told = @begun.flat_map do |operation, times|
          due, waiting = times.partition { |time| time + @within_us < before_us }
          @begun[operation] = waiting
          due.uniq.reject { |time| ended?(operation, time) }.map { |time| [time, time + @within_us] }
        end
        forget(before_us)
        told.sort
      end

      # @return [Boolean] whether it knows of nothing any more
      def empty? = @begun.empty? && @ended.empty?

      private

      def ended?(operation, time)
        @ended.key?(operation) && @ended[operation].any? { |other| other.between?(time, time + @within_us) }
      end

      # An end may come before its beginning: clocks differ, and lines are late.
      def forget(before_us)
        @begun.delete_if { |_, times| times.empty? }
        @ended.each_value { |times| times.reject! { |time| time + @within_us < before_us } }
        @ended.delete_if { |_, times| times.empty? }
      end
    end
  end
end
