# frozen_string_literal: true

module Northdrift
  module Compare
    # Says of counts on two sides what has changed: new, gone, more, less, or the same, when chance explains it.
    module Change
      # The share of changes that may be chance (false discovery rate).
      CHANCE = 0.05

      module_function

      # @param rows [Array<#events, #before, #expected, #log_p=, #change=>] gain the natural logarithm of the adjusted
      #   p-value of {Rates}, and the change
      # @param time [Numeric] length of this side
      # @param other_time [Numeric] length of the other
      def judge(rows, time, other_time)
        adjust(rows, rows.map { |row| Rates.log_p(row.events, time, row.before, other_time) })
      end

      # @param log_ps [Array<Float>] of the rows
      def adjust(rows, log_ps)
        Rates.adjusted(log_ps).zip(rows) do |log_p, row|
          row.log_p = log_p
          row.change = of(row)
        end
      end

      # @return [String]
      def of(row)
        return "same" if row.log_p > Math.log(CHANCE)
        return "new" if row.before.zero?
        return "gone" if row.events.zero?

        row.events > row.expected ? "more" : "less"
      end
    end
  end
end
