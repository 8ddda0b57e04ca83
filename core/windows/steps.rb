# frozen_string_literal: true

require "active_support"
require "active_support/time"

module Northdrift
  module Windows
    # Days as the clocks of a zone show them, each cut from its midnight on into steps of the same length: the last of a
    # day is shorter or longer where clocks are changed.
    module Steps
      DAY_US = 86_400_000_000

      module_function

      # @param from_us [Integer] microseconds UTC
      # @param to_us [Integer] not included
      # @param step_us [Integer] up to a day
      # @param zone [ActiveSupport::TimeZone]
      # @return [Array<Integer>] where each begins, the first of them at from_us or before it
      def starts(from_us, to_us, step_us, zone)
        days = midnights(from_us, to_us, zone)
        starts = days.each_cons(2).flat_map do |start, ends|
          # What is left of a day that is longer belongs to its last step.
          last = start + [((DAY_US / step_us) - 1) * step_us, 0].max
          (start...ends).step(step_us).take_while { |at| at <= last }
        end
        first = starts.rindex { |at| at <= from_us } || 0
        starts[first..].select { |at| at < to_us }
      end

      # @return [Array<Integer>] of all days that have a part between them, and of the day behind
      def midnights(from_us, to_us, zone)
        first, last = [from_us, to_us].map { |us| zone.at(us / 1_000_000).to_date }
        (first..(last + 1)).map { |date| zone.local(date.year, date.month, date.day).to_i * 1_000_000 }.uniq.sort
      end
      private_class_method :midnights
    end
  end
end
