# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Minutes with so many lines that looking at them takes a person's patience are counted by second as well. Of a
    # minute that is busy all seconds are there, exactly; of any other, none, since its lines are counted in no time.
    module BusyMinutes
      # Lines that make a minute busy.
      LINES = 6000
      SECOND = Reading::Clock::SECOND
      SECONDS = Rollup::MINUTE / SECOND
      ADD =
        "INSERT INTO second_counts SELECT value / #{1 << EventId::SEVERITY_BITS}, value & #{EventId::SEVERITY_MASK}, " \
        "count(*) FROM json_each(?) GROUP BY value " \
        "ON CONFLICT DO UPDATE SET n = n + excluded.n".freeze
      # Minutes, and whether they are counted already: such a one stays so when lines of it were taken out and it is
      # busy no more.
      BUSY = <<~SQL.freeze
        SELECT minute, EXISTS (SELECT 1 FROM second_counts WHERE second BETWEEN minute * #{SECONDS} AND minute * #{SECONDS} + #{SECONDS - 1}) AS counted
        FROM minute_counts WHERE minute >= 0 AND minute IN (SELECT value FROM json_each(?)) GROUP BY minute HAVING counted OR sum(n) >= ?
      SQL

      module_function

      # Counts lines that were just written, and all lines of minutes that they have made busy. Called within the
      # transaction, when rows and counts by minute are there.
      # @param minutes [Enumerable<Integer>] numbers of the minutes since 1970 that the lines are of
      # @param ids [Array<Array<Integer>>]
      def add(minutes, ids)
        busy = Database.rows(BUSY, [json(minutes), LINES])
        return if busy.empty?

        known, fresh = busy.partition { |_, counted| counted == 1 }
        fresh.each { |minute,| count(minute) }
        known = known.to_set(&:first)
        seconds = ids.flat_map do |all|
          all.filter_map do |id|
            second = EventId.millis(id) * EventId::MILLISECOND / SECOND
            (second << EventId::SEVERITY_BITS) | EventId.severity(id) if known.include?(second / SECONDS)
          end
        end
        Database.rows(ADD, [json(seconds)]) unless seconds.empty?
      end

      # @param from_us [Integer]
      # @param to_us [Integer] end, not included
      # @return [Array<Array(Integer, Integer)>] seconds since 1970: first, and the one behind the last, of each run of
      #   whole seconds in the window that are counted
      def runs(from_us, to_us)
        first = -(-from_us / SECOND)
        stop = to_us / SECOND
        return [] if stop <= first

        minutes =
          Database.rows(
            "SELECT DISTINCT second / #{SECONDS} FROM second_counts WHERE second >= ? AND second < ?",
            [first / SECONDS * SECONDS, -(-stop / SECONDS) * SECONDS]
          ).flatten
        minutes
          .slice_when { |one, other| other > one + 1 }
          .map { |run| [[run.first * SECONDS, first].max, [(run.last + 1) * SECONDS, stop].min] }
      end

      def count(minute)
        ids = [minute, minute + 1].map { |one| EventId.first(one * Rollup::MINUTE) }
        Database.rows(
          "INSERT INTO second_counts SELECT #{Rollup::SECOND}, id & #{EventId::SEVERITY_MASK}, count(*) FROM events " \
          "WHERE id >= ? AND id < ? GROUP BY 1, 2",
          ids
        )
      end
      private_class_method :count

      def json(numbers) = Oj.dump(numbers.to_a, mode: :strict)
      private_class_method :json
    end
  end
end
