# frozen_string_literal: true

module Northdrift
  module Store
    # The lines of a question condensed to patterns, and, where a second window is given, how each changed against it.
    class PatternTable < Survey
      STEPS = 48
      LOUDER = %w[new more].freeze
      # A change by less than this factor stands behind larger ones, however sure it is: of a thousand lines a tenth
      # more is certain, and explains nothing.
      SLIGHT = 2

      # @!attribute id [Integer]
      # @!attribute text [String]
      # @!attribute lines [Integer]
      # @!attribute severities [Array<Integer>] counts of the nine
      # @!attribute steps [Array<Integer>] counts by step of time
      # @!attribute first_id [Integer] its first and last line
      # @!attribute last_id [Integer]
      # @!attribute machines [Array<String, nil>]
      # @!attribute before [Integer, nil] lines in the window that it is compared with
      # @!attribute expected [Float, nil] lines that this window would have at the rate of the other
      # @!attribute log_p [Float, nil] natural logarithm of the adjusted p-value of the change
      # @!attribute change [String, nil] new, gone, more, less or same
      # @!attribute first_time [Boolean, nil] whether no line before the window has the pattern
      # @!attribute with [Integer, nil] pattern that it comes together with, where both are new or more: the first to
      #   appear stands for all
      Row =
        Struct.new(
          :id, :text, :lines, :severities, :steps, :first_id, :last_id, :machines, :before, :expected, :log_p, :change,
          :first_time, :with
        ) { alias_method :events, :lines }

      # @return [Integer] microseconds of a step, and where the first starts
      attr_reader :step_us, :start_us

      def initialize(question, against: nil)
        super
        @start_us = question.from_us
        @step_us = [-(-(question.to_us - question.from_us) / STEPS), 1].max
        @rows = {}
        @before = Hash.new(0)
        @known = KnownPatterns.current
        @earlier = {}
      end

      # @return [Array<Row>] the most surprising first when compared, the commonest otherwise; those that come together
      #   stand together
      def rows
        compare if @against
        rows =
          @rows.values.sort_by do |row|
            [slight?(row) ? 1 : 0, row.log_p || 0, row.log_p ? worst(row) : 0, -row.lines, row.text]
          end
        @against ? folded(rows) : rows
      end

      # Patterns that come at the same time as one of them.
      # @param id [Integer]
      # @return [Array<Array(Row, Integer, Float, Float)>] with how many steps of time they share, how many they would
      #   by chance, and the p-value; the most certain first
      def together(id)
        mask = Compare::Coincidence.bits(@rows.fetch(id) { return [] }.steps)
        others = @rows.values.reject { |row| row.id == id || row.lines.zero? }
        others.map { |row| [row, *Compare::Coincidence.of(mask, Compare::Coincidence.bits(row.steps), STEPS)] }
          .select { |*, p| p < Compare::Coincidence::CHANCE / others.size }.sort_by { |row, *, p| [p, row.text] }
      end

      # @return [Integer] lines
      def total = @rows.each_value.sum(&:lines)

      private

      def task = :template_counts
      def options(question) = { start_us: question.from_us, step_us: @step_us }

      def slight?(row) = row.expected&.positive? && (row.lines / row.expected).between?(1.0 / SLIGHT, SLIGHT)

      def worst(row) = row.severities.index(&:positive?) || Severity::UNSET

      def take(result, side, _job)
        counts, machines = result
        return counts.each { |(template, *), (n, *)| @before[row(template).id] += n } if side == :against

        counts.each do |(template, severity, step), (n, first, last)|
          row = row(template)
          row.lines += n
          row.severities[severity] += n
          row.steps[step.clamp(0, STEPS - 1)] += n
          row.first_id = [row.first_id, first].compact.min
          row.last_id = [row.last_id, last].compact.max
        end
        machines.each { |template, names| row(template).machines.concat(names).uniq! }
      end

      # Symptoms of one thing come in bursts together; each for itself they would push the rest out of sight.
      def folded(rows)
        louder = rows.select { |row| LOUDER.include?(row.change) }
        places = Compare::Coincidence.groups(louder.map { |row| Compare::Coincidence.bits(row.steps) }, STEPS)
        groups =
          louder
            .each_with_index
            .group_by { |_, index| places[index] }
            .transform_values { |members| members.map(&:first).sort_by(&:first_id) }
        groups.each_value { |head, *rest| rest.each { |row| row.with = head.id } && head.with = nil }
        led = groups.to_h { |place, members| [louder[place], members] }
        rows.flat_map { |row| led.fetch(row) { louder.include?(row) ? [] : [row] } }
      end

      def row(template)
        id = @known.of(template)
        @rows[id] ||= Row.new(id, @known.text(id), 0, Array.new(9, 0), Array.new(STEPS, 0), nil, nil, [])
      end

      def compare
        history_us = [@question.from_us - Span.all.first, 0].max
        rows = @rows.values
        rows.each do |row|
          row.before = @before[row.id]
          row.expected = expected(row.before)
          row.first_time = row.before.zero? && history_us.positive? && !earlier?(row.id)
        end
        Compare::Change.adjust(rows, rows.map { |row| log_p(row, history_us) })
      end

      # What was never there before is as surprising as the whole time without it is long. It has two chances to seem
      # surprising, so each counts half (Bonferroni).
      def log_p(row, history_us)
        own_us, other_us = times
        against_window = Compare::Rates.log_p(row.lines, own_us, row.before, other_us)
        return against_window unless row.first_time

        [[against_window, Compare::Rates.log_p(row.lines, own_us, 0, history_us)].min + Math.log(2), 0.0].min
      end

      def earlier?(pattern)
        @earlier.fetch(pattern) { @earlier[pattern] = seen_before?(@known.templates(pattern).join(",")) }
      end

      def seen_before?(templates)
        hour = @question.from_us / Rollup::HOUR
        if Database.value(
          "SELECT 1 FROM template_counts WHERE template_id IN (#{templates}) AND hour < ? LIMIT 1", [hour]
        )
          return true
        end

        # The hour that the window starts in.
        if Database.value("SELECT 1 FROM events WHERE id >= ? AND id < ? AND template_id IN (#{templates}) LIMIT 1",
                          [EventId.first(hour * Rollup::HOUR), EventId.first(@question.from_us)])
          true
        else
          false
        end
      end
    end
  end
end
