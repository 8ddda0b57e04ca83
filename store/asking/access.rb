# frozen_string_literal: true

module Northdrift
  module Store
    # Decides how the rows of a condition are come by: along the full-text index, or along the events table.
    class Access
      # Above this share of all events a walk over the table beats the index.
      DENSE = 0.3

      # @return [String, nil] full-text expression to walk along
      attr_reader :match
      # @return [String] predicates on the rows on that way
      attr_reader :predicate
      # @return [Array] values for match and predicate, in the order of {#parts}
      attr_reader :binds

      # @param condition [Condition]
      # @param first [Integer] ids asked for
      # @param last [Integer]
      # @param share [#call] takes a condition told by counts, returns its share of all events
      # @param walk [Boolean] whether the ids asked for are so few that looking at all of them is best
      def initialize(condition, first, last, share:, walk: false)
        @first = first
        @last = last
        @match, rest = walk ? [nil, condition] : choose(condition, share)
        sql, values = rest.as_sql
        # The index knows of no sight.
        @needs_row = sql.match?(/events\.(?!id\b)/) || !Sight.current.nil?
        sql = sql.gsub("events.id", "lines.rowid") if @match && !@needs_row
        @predicate = sql.gsub(Condition::WINDOW, "rowid BETWEEN #{Integer(first)} AND #{Integer(last)}")
        @binds = [*@match, *values]
      end

      # @param row [Boolean] whether columns of events are wanted
      # @return [Array(String, String)] FROM and WHERE; the id is {#id}
      def parts(row: false)
        return ["FROM events", "WHERE events.id BETWEEN #{@first} AND #{@last} AND #{@predicate}"] unless @match

        table = row || @needs_row ? "lines CROSS JOIN events ON events.id = lines.rowid" : "lines"
        ["FROM #{table}", "WHERE lines MATCH ? AND lines.rowid BETWEEN #{@first} AND #{@last} AND #{@predicate}"]
      end

      # @return [String] the column that has the id
      def id = @match ? "lines.rowid" : "events.id"

      private

      # @return [Array(String, Condition)] what to walk along, and what remains to be looked at
      def choose(condition, share)
        if condition.match
          match = "(#{condition.match})"
          match = "#{match} AND (#{Condition.kinds_match(condition.kinds)})" if few?(condition.kinds)
          match = "(#{match}) NOT (#{condition.without})" if condition.without
          rest = condition.dup
          rest.match = rest.without = nil
          rest.kinds = nil if few?(rest.kinds)
          return [match, rest]
        end
        along_marks(condition, share)
      end

      def along_marks(condition, share)
        kinds = Condition.new(kinds: condition.kinds)
        severities = Condition.new(severities: condition.severities)
        if condition.kinds && kinds.as_match && share.call(kinds) < DENSE
          rest = condition.dup.tap { |copy| copy.kinds = nil }
          [kinds.as_match, rest]
        elsif condition.severities && severities.as_match && share.call(severities) < DENSE
          rest = condition.dup.tap { |copy| copy.severities = nil }
          [severities.as_match, rest]
        else
          [nil, condition]
        end
      end

      # So few that naming them in the expression costs less than looking at the rows.
      def few?(kinds) = kinds && kinds.size.between?(1, 64)
    end
  end
end
