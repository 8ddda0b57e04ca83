# frozen_string_literal: true

module Northdrift
  module Store
    # The lines of a question condensed to patterns, and, where a second window is given, how each changed against it.
    class PatternTable
      STEPS = 24
      # Smaller pieces than counts have: more is done for each line.
      PIECE = 150_000
      # The share of changes that may be chance (false discovery rate).
      CHANCE = 0.05

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
      Row = Struct.new(:id, :text, :lines, :severities, :steps, :first_id, :last_id, :machines, :before, :expected, :log_p, :change, :first_time)

      # @return [Array<Row>] the most surprising first when compared, the commonest otherwise
      attr_reader :rows
      # @return [Integer] microseconds of a step, and where the first starts
      attr_reader :step_us, :start_us

      # @param question [Question]
      # @param against [Question, nil] the same with another window
      def initialize(question, against: nil)
        @question = question
        @against = against
        @start_us = question.from_us
        @step_us = [-(-(question.to_us - question.from_us) / STEPS), 1].max
        @rows = {}
        @known = KnownPatterns.current
      end

      # @yieldparam done [Float] 0 to 1
      # @return [self]
      def count(&)
        parts(@question, &).each { |counts, machines| add(counts, machines) }
        compare(parts(@against, &)) if @against
        @rows = @rows.values.sort_by { |row| [row.log_p || 0, row.log_p ? worst(row) : 0, -row.lines, row.id] }
        self
      end

      # @return [Integer] lines
      def total = @rows.sum(&:lines)

      private

      def worst(row) = row.severities.index(&:positive?) || Severity::UNSET

      def parts(question, &) = question.in_pieces(:template_counts, size: PIECE, start_us: question.from_us, step_us: @step_us, &)

      def add(counts, machines)
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

      def row(template)
        id = @known.of(template)
        @rows[id] ||= Row.new(id, @known.text(id), 0, Array.new(9, 0), Array.new(STEPS, 0), nil, nil, [])
      end

      def compare(parts)
        before = Hash.new(0)
        parts.each { |part| part.first.each { |(template, *), (n, *)| before[row(template).id] += n } }
        own_time, other_time = [@question, @against].map { |question| [question.to_us - question.from_us, 1].max }
        history_us = [@question.from_us - Span.all.first, 0].max
        @rows.each_value do |row|
          row.before = before[row.id]
          row.expected = row.before * own_time.fdiv(other_time)
          row.first_time = row.before.zero? && history_us.positive? && !earlier?(row.id)
          row.log_p = log_p(row, own_time, other_time, history_us)
        end
        rows = @rows.values
        Compare::Rates.adjusted(rows.map(&:log_p)).zip(rows) { |log_p, row| row.log_p = log_p }
        rows.each { |row| row.change = change(row) }
      end

      # What was never there before is as surprising as the whole time without it is long. It has two chances to seem
      # surprising, so each counts half (Bonferroni).
      def log_p(row, own_time, other_time, history_us)
        against_window = Compare::Rates.log_p(row.lines, own_time, row.before, other_time)
        return against_window unless row.first_time

        [[against_window, Compare::Rates.log_p(row.lines, own_time, 0, history_us)].min + Math.log(2), 0.0].min
      end

      def earlier?(pattern)
        templates = @known.templates(pattern)
        hour = @question.from_us / Rollup::HOUR
        return true if Database.value("SELECT 1 FROM template_counts WHERE template_id IN (#{templates.join(',')}) AND hour < ? LIMIT 1", [hour])

        # The hour that the window starts in.
        Database.value("SELECT 1 FROM events WHERE id >= ? AND id < ? AND template_id IN (#{templates.join(',')}) LIMIT 1",
                       [EventId.first(hour * Rollup::HOUR), EventId.first(@question.from_us)]) ? true : false
      end

      def change(row)
        return "same" if row.log_p > Math.log(CHANCE)
        return "new" if row.before.zero?
        return "gone" if row.lines.zero?

        row.lines > row.expected ? "more" : "less"
      end
    end
  end
end
