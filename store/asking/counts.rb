# frozen_string_literal: true

module Northdrift
  module Store
    # Counts by step of time, severity and kind: from the roll-ups as far as they reach, from the events where a window
    # starts or ends between two of their steps (in {BusyMinutes}, of their seconds), and always when a condition needs
    # a look at the lines themselves.
    class Counts
      IDS = ->(from_us, to_us) { [EventId.first(from_us), EventId.first(to_us) - 1] }

      # A table of counts.
      # @!attribute size [Integer] microseconds of the spans that it counts by
      Spans = Struct.new(:table, :column, :size)
      # The coarsest first.
      BY_KIND = [
        Spans.new("kind_hours", "hour", Rollup::HOUR), Spans.new("kind_counts", "slot", Rollup::SLOT)
      ].freeze
      BY_MINUTE = [Spans.new("minute_counts", "minute", Rollup::MINUTE)].freeze
      BY_SECOND = Spans.new("second_counts", "second", BusyMinutes::SECOND).freeze
      # Kinds times steps that are looked up one by one.
      MOST_PLACES = 150_000

      # @param condition [Condition]
      # @param lanes [Hash{Integer=>String, nil}, nil] by kind id: names to be counted apart
      # @param ids [#call] gives the first and last id of a window
      def initialize(condition, lanes: nil, ids: IDS)
        @condition = condition
        @ids = ids
        @names = lanes ? lanes.values.uniq : [nil]
        @width = [@names.size, 1].max
        @lanes = lanes&.transform_values(&@names.each_with_index.to_h)
      end

      # @param from_us [Integer] start, microseconds UTC
      # @param to_us [Integer] end, not included
      # @param start_us [Integer] where the first step starts
      # @param step_us [Integer] size of a step
      # @return [Hash{Array(Integer, Integer, String)=>Integer}] counts by step, severity and lane (nil without lanes)
      def each_step(from_us, to_us, start_us, step_us)
        @start_us = start_us
        @step_us = step_us
        @totals = Hash.new(0)
        return @totals if @condition.nothing? || to_us <= from_us

        from_rollups(from_us, to_us, rollups.select { |one| counted_by?(one.size) })
        @totals
      end

      # @return [Integer] exact number of events
      def total(from_us, to_us)
        return 0 if @condition.nothing? || to_us <= from_us

        # One step that has everything.
        size = rollups.first.size
        start = from_us / size * size
        step = (((to_us - start) / size) + 1) * size
        each_step(from_us, to_us, start, step).each_value.sum
      end

      # @return [Float] of all events, those that a condition told by counts has
      def self.share(condition)
        all = Database.value("SELECT sum(n) FROM main.minute_counts").to_f
        return 0.0 if all.zero?

        sql, = condition.as_sql
        table = condition.kinds ? "main.kind_hours" : "main.minute_counts"
        Database.value("SELECT sum(n) FROM #{table} WHERE #{rollup_predicate(sql)}").to_f / all
      end

      def self.rollup_predicate(sql)
        sql.gsub("(events.id & #{EventId::SEVERITY_MASK})", "severity").gsub("events.kind_id", "kind_id")
      end

      private

      def rollups = @condition.kinds || @lanes ? BY_KIND : BY_MINUTE

      # @return [Boolean] whether counts of spans of that size can be put together to the steps
      def counted_by?(size) = @condition.told_by_counts? && (@step_us % size).zero? && (@start_us % size).zero?

      # From the coarsest that fit as far as they reach, and what is left at either end from finer ones.
      # @param fitting [Array<Spans>]
      def from_rollups(from_us, to_us, fitting)
        one, *finer = fitting
        return from_seconds(from_us, to_us) unless one

        inner_from = -(-from_us / one.size) * one.size
        inner_to = to_us / one.size * one.size
        return from_rollups(from_us, to_us, finer) if inner_to <= inner_from

        from_rollups(from_us, inner_from, finer)
        from_spans(one, inner_from / one.size, inner_to / one.size)
        from_rollups(inner_to, to_us, finer)
      end

      # From counts by second as far as there are any, and from the lines between.
      def from_seconds(from_us, to_us)
        runs = rollups == BY_MINUTE && counted_by?(BusyMinutes::SECOND) ? BusyMinutes.runs(from_us, to_us) : []
        runs.each do |first, stop|
          from_lines(from_us, first * BusyMinutes::SECOND)
          from_table(BY_SECOND, first, stop)
          from_us = stop * BusyMinutes::SECOND
        end
        from_lines(from_us, to_us)
      end

      # @param first [Integer] number of a span since 1970
      # @param stop [Integer] the one behind the last
      def from_spans(spans, first, stop)
        steps = ((stop - 1 - (@start_us / spans.size)) / (@step_us / spans.size)) + 1
        return from_table(spans, first, stop) unless @lanes && @lanes.size * steps <= MOST_PLACES

        by_place(spans, first, stop)
      end

      # Kind by kind and step by step, in the order of the table: to sort its rows takes longer than to read them.
      def by_place(spans, first, stop)
        Lanes.tell(@lanes)
        Lanes.tell_steps(steps_of(spans, first, stop))
        sql, = @condition.as_sql
        codes = 0..Severity::UNSET
        rows = Database.rows(<<~SQL)
          SELECT lane, step, #{codes.map { |code| "sum(n#{code})" }.join(', ')} FROM (
            SELECT lane, step, #{codes.map { |code| "sum(n) FILTER (WHERE severity = #{code}) AS n#{code}" }.join(', ')}
            FROM temp.lanes CROSS JOIN temp.steps CROSS JOIN #{spans.table}
            ON kind_id = lanes.kind AND #{spans.column} >= steps.first AND #{spans.column} < steps.stop
            WHERE #{self.class.rollup_predicate(sql)} GROUP BY lanes.kind, steps.step
          ) GROUP BY lane, step
        SQL
        rows.each do |lane, step, *counts|
          counts.each_with_index { |n, severity| @totals[[step, severity, @names[lane]]] += n if n }
        end
      end

      # @return [Array<Array(Integer, Integer, Integer)>] steps, and the first span of each and the one behind its last
      def steps_of(spans, first, stop)
        start = @start_us / spans.size
        size = @step_us / spans.size
        ((first - start) / size..(stop - 1 - start) / size).map do |step|
          [step, [start + (step * size), first].max, [start + ((step + 1) * size), stop].min]
        end
      end

      def from_table(spans, first, stop)
        sql, = @condition.as_sql
        gather(
          step: "(#{spans.column} - #{@start_us / spans.size}) / #{@step_us / spans.size}", severity: "severity",
          count: "sum(n)", from: "FROM #{spans.table}", kind: "#{spans.table}.kind_id",
          where:
            "WHERE #{spans.column} >= #{first} AND #{spans.column} < #{stop} AND #{self.class.rollup_predicate(sql)}"
        )
      end

      def from_lines(from_us, to_us)
        return if to_us <= from_us

        access =
          Access.new(@condition, *@ids.call(from_us, to_us), share: self.class.method(:share))
        table, where = access.parts(row: !@lanes.nil?)
        gather(
          step:
            "((#{access.id} >> #{EventId::TIME_BITS}) - #{@start_us / EventId::MILLISECOND}) / #{@step_us / EventId::MILLISECOND}",
          severity: "(#{access.id} & #{EventId::SEVERITY_MASK})", count: "count(*)", from: table,
          kind: "events.kind_id", where: where, binds: access.binds
        )
      end

      # Grouping by one number takes a third of the time of grouping by three columns.
      def gather(step:, severity:, count:, from:, kind:, where:, binds: [])
        key = "((#{step}) * 16 + #{severity}) * #{@width}"
        if @lanes
          Lanes.tell(@lanes)
          key = "#{key} + lanes.lane"
          from = "#{from} JOIN temp.lanes ON lanes.kind = #{kind}"
        end
        Database.rows("SELECT #{key}, #{count} #{from} #{where} GROUP BY 1", binds).each do |number, n|
          rest, lane = number.divmod(@width)
          @totals[[rest >> 4, rest & 15, @names[lane]]] += n
        end
      end
    end
  end
end
