# frozen_string_literal: true

module Northdrift
  module Store
    # Counts by step of time, severity and kind: from the roll-ups as far as they reach, from the events where a window
    # starts or ends between two of their steps (in {BusyMinutes}, of their seconds), and always when a condition needs
    # a look at the lines themselves.
    class Counts
      IDS = ->(from_us, to_us) { [EventId.first(from_us), EventId.first(to_us) - 1] }

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

        if counted_by?(rollup_size)
          from_rollups(from_us, to_us, rollup_size)
        else
          from_seconds(from_us, to_us)
        end
        @totals
      end

      # @return [Integer] exact number of events
      def total(from_us, to_us)
        return 0 if @condition.nothing? || to_us <= from_us

        size = rollup_size
        start = from_us / size * size
        # One step that has everything.
        step = ((to_us - start) / size + 1) * size
        each_step(from_us, to_us, start, step).each_value.sum
      end

      # @return [Float] of all events, those that a condition told by counts has
      def self.share(condition)
        all = Database.value("SELECT sum(n) FROM main.minute_counts").to_f
        return 0.0 if all.zero?

        sql, = condition.as_sql
        table = condition.kinds ? "main.kind_counts" : "main.minute_counts"
        Database.value("SELECT sum(n) FROM #{table} WHERE #{rollup_predicate(sql)}").to_f / all
      end

      def self.rollup_predicate(sql)
        sql.gsub("(events.id & #{EventId::SEVERITY_MASK})", "severity").gsub("events.kind_id", "kind_id")
      end

      private

      def rollup_size = @condition.kinds || @lanes ? Rollup::SLOT : Rollup::MINUTE

      # @return [Boolean] whether counts of spans of that size can be put together to the steps
      def counted_by?(size) = @condition.told_by_counts? && (@step_us % size).zero? && (@start_us % size).zero?

      def from_rollups(from_us, to_us, size)
        inner_from = -(-from_us / size) * size
        inner_to = to_us / size * size
        return from_seconds(from_us, to_us) if inner_to <= inner_from

        from_seconds(from_us, inner_from)
        table, column = size == Rollup::SLOT ? %w[kind_counts slot] : %w[minute_counts minute]
        from_table(table, column, size, inner_from / size, inner_to / size)
        from_seconds(inner_to, to_us)
      end

      # From counts by second as far as there are any, and from the lines between.
      def from_seconds(from_us, to_us)
        runs = rollup_size == Rollup::MINUTE && counted_by?(BusyMinutes::SECOND) ? BusyMinutes.runs(from_us, to_us) : []
        runs.each do |first, stop|
          from_lines(from_us, first * BusyMinutes::SECOND)
          from_table("second_counts", "second", BusyMinutes::SECOND, first, stop)
          from_us = stop * BusyMinutes::SECOND
        end
        from_lines(from_us, to_us)
      end

      # @param size [Integer] of the spans that the table counts by, microseconds
      # @param first [Integer] number of a span since 1970
      # @param stop [Integer] the one behind the last
      def from_table(table, column, size, first, stop)
        sql, = @condition.as_sql
        gather(
          step: "(#{column} - #{@start_us / size}) / #{@step_us / size}", severity: "severity", count: "sum(n)",
          from: "FROM #{table}", kind: "#{table}.kind_id",
          where: "WHERE #{column} >= #{first} AND #{column} < #{stop} AND #{self.class.rollup_predicate(sql)}"
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
