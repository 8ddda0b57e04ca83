# frozen_string_literal: true

module Northdrift
  module Store
    # Counts by hour of what is watched for being out of its usual: of patterns, of services on machines, of machines.
    # Sources for which that is off are left out, as far as what they bring comes from no other.
    class UnusualSeries
      SLOTS = Rollup::HOUR / Rollup::SLOT
      WEEK = Northdrift::Unusual::Baseline::WEEK
      REACH = Northdrift::Unusual::Baseline::WEEKS * WEEK
      # What has fewer lines in every hour is not judged.
      FEWEST = [Northdrift::Unusual::Baseline::FEWEST_MORE, Northdrift::Unusual::Baseline::FEWEST_LESS].min

      # One who speaks: a machine, and the service on it.
      Voice = Struct.new(:machine, :service)

      # @param hours [Range<Integer>] that are to be judged
      def initialize(hours)
        @hours = hours
        @known = KnownPatterns.current
      end

      # @return [Hash{Voice=>Integer}] the first hour in which each spoke
      def since
        @since ||= by_voice("SELECT kind_id, min(slot) / #{SLOTS} FROM kind_counts GROUP BY 1")
          .transform_values { |rows| rows.map(&:last).min }
      end

      # @return [Hash{Voice=>Hash{Integer=>Integer}}] lines by hour
      def voices
        by_voice(
          "SELECT kind_id, slot / #{SLOTS}, sum(n) FROM kind_counts WHERE slot >= #{first * SLOTS} GROUP BY 1, 2"
        ).transform_values { |rows| counts(rows.map { |_, hour, n| [hour, n] }) }
      end

      # @return [Hash{Integer=>Hash{Integer=>Integer}}] lines by hour, of patterns that had enough in an hour
      def patterns
        loud.each_with_object({}) do |(pattern, templates), all|
          rows = Database.rows(
            "SELECT hour, sum(n) FROM template_counts WHERE template_id IN (#{templates.join(',')}) AND hour >= ? " \
            "GROUP BY 1", [first]
          )
          all[pattern] = counts(rows)
        end
      end

      # @param pattern [Integer]
      # @return [Array<Voice>] who says it, where that is watched
      def voices_of(pattern) = said_by.fetch(pattern, [])

      # @param pattern [Integer]
      # @param hours [Range<Integer>]
      # @return [Integer] severity of its worst line there, or, where there is none, ever
      def worst(pattern, hours)
        templates = @known.templates(pattern).join(",")
        sql = "SELECT min(severity) FROM template_counts WHERE template_id IN (#{templates})"
        Database.value("#{sql} AND hour BETWEEN ? AND ?", [hours.begin, hours.end]) || Database.value(sql) ||
          Severity::UNSET
      end

      # @return [Hash{Integer=>Integer}] the hour in which each pattern was there first
      def began
        @began ||= Database.rows(<<~SQL).each_with_object({}) { |(id, hour), all| earliest(all, @known.now(id), hour) }
          SELECT pattern_id, min((SELECT min(hour) FROM template_counts WHERE template_id = templates.id)) AS began
          FROM templates GROUP BY 1 HAVING began IS NOT NULL
        SQL
      end

      # @param pattern [Integer]
      # @param hour [Integer]
      # @return [Boolean] whether it is new then to those who have been known for a while, see {NewPatterns}
      def new?(pattern, hour)
        first = began.fetch(pattern, hour)
        hour < first + NewPatterns::NEW_HOURS &&
          voices_of(pattern).any? { |voice| first - since.fetch(voice, first) >= NewPatterns::LEARN }
      end

      # @return [Set<Integer>] ids of kinds whose lines are watched
      def kinds
        @kinds ||= Database.rows(
          "SELECT DISTINCT kind_id FROM kind_sources JOIN sources ON sources.id = source_id WHERE unusual"
        ).flatten.to_set
      end

      # @return [Hash{Integer=>Voice}] by kind
      def voice_of
        @voice_of ||= Kinds.current.select(&:machine).to_h { |one| [one.id, Voice.new(one.machine, one.service)] }
      end

      private

      def first = @hours.begin - REACH

      def counts(rows) = rows.each_with_object(Hash.new(0)) { |(hour, n), all| all[hour] += n }

      def earliest(all, pattern, hour)
        all[pattern] = [all[pattern], hour].compact.min
      end

      def by_voice(sql)
        Database.rows(sql).select { |kind, *| kinds.include?(kind) && voice_of.key?(kind) }
          .group_by { |kind, *| voice_of[kind] }
      end

      # Patterns with enough lines in an hour that is judged, or a day or a week before one: they may be missed.
      # @return [Hash{Integer=>Array<Integer>}] templates by pattern
      def loud
        spans = [0, Northdrift::Unusual::Baseline::DAY, WEEK].map do |back|
          "hour BETWEEN #{@hours.begin - back} AND #{@hours.end - back}"
        end
        rows = Database.rows(<<~SQL)
          SELECT template_id, hour, sum(n) FROM templates CROSS JOIN template_counts ON template_id = templates.id
          WHERE #{spans.join(' OR ')} GROUP BY 1, 2
        SQL
        sums = rows.each_with_object(Hash.new(0)) { |(template, hour, n), all| all[[@known.of(template), hour]] += n }
        loud = sums.select { |_, n| n >= FEWEST }.keys.map(&:first).uniq
        loud.select { |pattern| voices_of(pattern).any? }.to_h { |pattern| [pattern, @known.templates(pattern)] }
      end

      def said_by
        @said_by ||= Database.rows(<<~SQL).each_with_object({}) { |(template, kind), all| said(all, template, kind) }
          SELECT DISTINCT template_id, kind_id FROM appearances JOIN sources ON sources.id = source_id WHERE unusual
        SQL
      end

      def said(all, template, kind)
        voice = voice_of[kind] or return
        voices = (all[@known.of(template)] ||= [])
        voices << voice unless voices.include?(voice)
      end
    end
  end
end
