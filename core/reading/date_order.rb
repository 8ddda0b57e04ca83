# frozen_string_literal: true

module Northdrift
  module Reading
    # Which of the numbers of a date is its day. A file decides as a whole ({DateOrder.of}); where nothing is known of
    # it, the order counts that puts a moment nearest before the reference.
    module DateOrder
      # Where year, month and day stand in dates of two and of three numbers. The first of equal ones wins.
      ORDERS = { "year first" => [0, 1, 2], "day first" => [2, 1, 0], "month first" => [2, 0, 1] }.freeze
      WRITTEN =
        %r{(?<![\w./-])(?<one>\d\d?)(?<sign>[/-])(?<two>\d\d?)(?:\k<sign>(?:(?<year>\d{4})|(?<three>\d\d)))?
           (?:,?[ T|-]|,)[ ]?(?<hour>\d\d?):(?<minute>\d\d):(?<second>\d\d)(?:[.,:]\d{1,9})?
           (?<half>\x20?[AaPp][Mm]\b)?}nx
      # So many dates of a file are looked at.
      ENOUGH = 2000

      # @!attribute order [String] a key of {ORDERS}
      # @!attribute certain [Boolean] whether no other fits all dates
      Decision = Struct.new(:order, :certain)

      module_function

      # @param numbers [Array<Integer>] two, or three with the year among them
      # @param year [Integer, nil]
      # @param time [Array<Integer>] hour, minute, second, microseconds
      # @param offset [Integer, nil] minutes east of UTC
      # @param clock [Clock]
      # @return [Integer, nil] microseconds UTC
      def moment(numbers, year, time, offset, clock)
        moments = moments(numbers, year, time, offset, clock)
        moments[clock.date_order] || nearest(moments.values, clock)
      end

      # @param text [String] the start of a file
      # @param clock [Clock]
      # @return [Decision, nil] nil where no such date stands in it
      def of(text, clock)
        dates = dates(text, clock)
        return if dates.empty?

        fitting = ORDERS.keys.select { |order| dates.all? { |moments| moments.key?(order) } }
        fitting = ORDERS.keys if fitting.empty?
        best = fitting.min_by.with_index do |order, index|
          moments = dates.filter_map { |found| found[order] }
          [-moments.size, late(moments, clock), steps_back(moments), spread(moments), index]
        end
        Decision.new(best, fitting.size == 1)
      end

      def moments(numbers, year, time, offset, clock)
        ORDERS.each_with_object({}) do |(order, (at_year, at_month, at_day)), found|
          next if numbers.size == 2 && order == "year first"

          if numbers.size == 2
            month, day = order == "day first" ? numbers.reverse : numbers
          else
            year = 2000 + numbers[at_year]
            month, day = numbers.values_at(at_month, at_day)
          end
          civil = [month, day, *time]
          us = year ? clock.utc(year, civil, offset) : clock.utc_without_year(civil, offset)
          found[order] = us if us
        end
      end
      private_class_method :moments

      def nearest(moments, clock)
        moments.min_by { |us| us > clock.reference_us + Clock::SLACK ? Float::INFINITY : clock.reference_us - us }
      end
      private_class_method :nearest

      # @return [Array<Hash{String=>Integer}>] moments by order
      def dates(text, clock)
        found = []
        text.scan(WRITTEN) do
          match = Regexp.last_match
          numbers = [match[:one].to_i, match[:two].to_i, match[:three]&.to_i].compact
          time = [match[:hour].to_i, match[:minute].to_i, match[:second].to_i, 0]
          moments = moments(numbers, match[:year]&.to_i, time, nil, clock)
          found << moments unless moments.empty?
          break if found.size >= ENOUGH
        end
        found
      end
      private_class_method :dates

      def late(moments, clock) = moments.count { |us| us > clock.reference_us + Clock::SLACK }
      private_class_method :late

      def steps_back(moments) = moments.each_cons(2).count { |one, two| two < one }
      private_class_method :steps_back

      # How far apart the dates are, in whole days: those of one file lie near each other.
      def spread(moments) = (moments.max - moments.min) / (Clock::DAY * Clock::SECOND)
      private_class_method :spread
    end
  end
end
