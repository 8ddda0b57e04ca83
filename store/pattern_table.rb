# frozen_string_literal: true

module Northdrift
  module Store
    # The lines of a question condensed to patterns, and, where a second window is given, how each changed against it.
    class PatternTable
      STEPS = 24
      # Changes that are likelier to be chance than this are none (false discovery rate).
      CHANCE = 0.01

      # @!attribute id [Integer]
      # @!attribute text [String]
      # @!attribute count [Integer] lines
      # @!attribute severities [Array<Integer>] counts of the nine
      # @!attribute steps [Array<Integer>] counts by step of time
      # @!attribute first_id [Integer] its first and last line
      # @!attribute last_id [Integer]
      # @!attribute machines [Array<String, nil>]
      # @!attribute before [Integer, nil] lines in the window that it is compared with
      # @!attribute expected [Float, nil] lines that this window would have at the rate of the other
      # @!attribute log_p [Float, nil] natural logarithm of the adjusted p-value of the change
      # @!attribute change [String, nil] new, gone, more, less or same
      Row = Struct.new(:id, :text, :count, :severities, :steps, :first_id, :last_id, :machines, :before, :expected, :log_p, :change)

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
      end

      # @yieldparam done [Float] 0 to 1
      # @return [self]
      def count(&)
        parts(@question, &).each { |counts, machines| add(counts, machines) }
        compare(parts(@against, &)) if @against
        @rows = @rows.values.sort_by { |row| [row.log_p || 0, -row.count, row.id] }
        self
      end

      # @return [Integer] lines
      def total = @rows.sum(&:count)

      private

      def parts(question, &) = question.in_pieces(:template_counts, start_us: question.from_us, step_us: @step_us, &)

      def add(counts, machines)
        counts.each do |(template, severity, step), (n, first, last)|
          row = row(template)
          row.count += n
          row.severities[severity] += n
          row.steps[step.clamp(0, STEPS - 1)] += n
          row.first_id = [row.first_id, first].compact.min
          row.last_id = [row.last_id, last].compact.max
        end
        machines.each { |template, names| row(template).machines.concat(names).uniq! }
      end

      def row(template)
        known = KnownPatterns.current
        id = known.of(template)
        @rows[id] ||= Row.new(id, known.text(id), 0, Array.new(9, 0), Array.new(STEPS, 0), nil, nil, [])
      end

      def compare(parts)
        before = Hash.new(0)
        parts.each { |counts, _| counts.each { |(template, *), (n, *)| before[row(template).id] += n } }
        own_time, other_time = [@question, @against].map { |question| [question.to_us - question.from_us, 1].max }
        @rows.each_value do |row|
          row.before = before[row.id]
          row.expected = row.before * own_time.fdiv(other_time)
          row.log_p = Compare::Rates.log_p(row.count, own_time, row.before, other_time)
        end
        rows = @rows.values
        Compare::Rates.adjusted(rows.map(&:log_p)).zip(rows) { |log_p, row| row.log_p = log_p }
        rows.each { |row| row.change = change(row) }
      end

      def change(row)
        return "same" if row.log_p > Math.log(CHANCE)
        return "new" if row.before.zero?
        return "gone" if row.count.zero?

        row.count > row.expected ? "more" : "less"
      end
    end
  end
end
