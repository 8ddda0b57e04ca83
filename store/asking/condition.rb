# frozen_string_literal: true

module Northdrift
  module Store
    # A set of events as the database can find it: the intersection of what its parts name. A part that is nil names
    # all events.
    #
    # @!attribute match [String, nil] full-text expression
    # @!attribute without [String, nil] full-text expression of what is left out
    # @!attribute kinds [Set<Integer>, nil] ids of kinds
    # @!attribute severities [Array<Integer>, nil] severity codes
    # @!attribute sql [String, nil] predicate on a row `events`, for what only the row itself can tell
    # @!attribute binds [Array] its values
    Condition = Struct.new(:match, :without, :kinds, :severities, :sql, :binds, keyword_init: true) do
      # @return [Condition] events that are in both
      def &(other)
        self.class.new(
          match: join(match, other.match, "AND"), without: join(without, other.without, "OR"),
          kinds: common(kinds, other.kinds), severities: common(severities, other.severities),
          sql: [sql, other.sql].compact.then { |parts| parts.size > 1 ? "(#{parts.join(') AND (')})" : parts.first },
          binds: [*binds, *other.binds]
        )
      end

      # @return [Condition] events that are in either
      def |(other)
        return self.class.new(kinds: kinds | other.kinds) if only?(:kinds) && other.only?(:kinds)
        if only?(:severities) && other.only?(:severities)
          return self.class.new(severities: severities | other.severities)
        end

        mine = as_match
        theirs = other.as_match
        # Where an index can tell a superset of both, the rows are looked at only there.
        narrowed = mine && theirs ? "(#{mine}) OR (#{theirs})" : nil
        return self.class.new(match: narrowed) if narrowed && told_by_match? && other.told_by_match?

        own_sql, own_binds = as_sql
        other_sql, other_binds = other.as_sql
        self.class.new(match: narrowed, sql: "(#{own_sql}) OR (#{other_sql})", binds: own_binds + other_binds)
      end

      # @param all_kinds [Enumerable<Integer>] ids of all kinds there are
      # @return [Condition] all other events
      def negated(all_kinds)
        return self.class.new(kinds: all_kinds.to_set - kinds) if only?(:kinds)
        return self.class.new(severities: [*0..Severity::UNSET] - severities) if only?(:severities)
        return self.class.new(without: match) if only?(:match)
        return self.class.new(match: without) if only?(:without)

        own_sql, own_binds = as_sql
        self.class.new(sql: "NOT coalesce((#{own_sql}), 0)", binds: own_binds)
      end

      # @return [Boolean] whether no part but this one says anything
      def only?(part)
        !self[part].nil? && (%i[match without kinds severities sql] - [part]).all? { |other| self[other].nil? }
      end

      # @return [Boolean] whether it names all events
      def everything? = %i[match without kinds severities sql].all? { |part| self[part].nil? }

      # @return [Boolean] whether it is plain that it names none
      def nothing? = kinds&.empty? || severities&.empty? || false

      # @return [Boolean] whether counts by kind and severity answer it
      def told_by_counts? = match.nil? && without.nil? && sql.nil?

      # @return [Boolean] whether {#as_match} is the whole of it
      def told_by_match?
        without.nil? && sql.nil? &&
          (match.nil? ? !as_match.nil? && (kinds.nil? || severities.nil?) : kinds.nil? && severities.nil?)
      end

      # @return [String, nil] a full-text expression for it, or for more than it
      def as_match
        return match if match
        return Condition.kinds_match(kinds) if kinds && kinds.size.between?(1, Condition::KINDS_IN_MATCH)

        return unless severities && severities.any? && severities.all? { |code| IndexText::MARKED.cover?(code) }

        Condition.severities_match(severities)
      end

      # @return [Array(String, Array)] a predicate on a row `events`, and its values
      def as_sql
        parts = []
        values = []
        [["IN", match], ["NOT IN", without]].each do |sign, expression|
          next unless expression

          parts << "events.id #{sign} (SELECT rowid FROM lines WHERE lines MATCH ? AND #{Condition::WINDOW})"
          values << expression
        end
        parts << "events.kind_id IN (#{kinds.to_a.join(',')})" if kinds
        parts << "(events.id & #{EventId::SEVERITY_MASK}) IN (#{severities.join(',')})" if severities
        parts << "(#{sql})" if sql
        [parts.empty? ? "1" : parts.join(" AND "), values + binds.to_a]
      end

      private

      def join(mine, theirs, operator) = mine && theirs ? "(#{mine}) #{operator} (#{theirs})" : mine || theirs
      def common(mine, theirs) = mine && theirs ? mine & theirs : mine || theirs
    end

    class Condition
      # Stands in predicates for "rowid BETWEEN first AND last" of the ids that are asked for.
      WINDOW = "rowid_in_window"

      # More kinds than this are not written into a full-text expression.
      KINDS_IN_MATCH = 200

      EVERYTHING = new.freeze

      # @param ids [Enumerable<Integer>]
      # @return [String] full-text expression
      def self.kinds_match(ids) = ids.map { |id| "\"#{IndexText::KIND}#{id}\"" }.join(" OR ")

      # @param codes [Array<Integer>]
      # @return [String] full-text expression
      def self.severities_match(codes) = codes.map { |code| "\"#{IndexText::SEVERITY}#{code}\"" }.join(" OR ")
    end
  end
end
