# frozen_string_literal: true

module Northdrift
  module Store
    # The fields of a question's lines with their values, those first whose values differ most from the rest
    # of the window, or from what the question is compared with.
    class FieldTable < Survey
      # Values kept of a field: above it only the number of further lines is known.
      MOST_VALUES = 300_000
      SHOWN = 50
      # Values that differ by their counts are told apart; the rest are together.
      TOLD_APART = 20
      # Lines of the window, out of which the question's are set against the others.
      SAMPLE = 20_000
      SAMPLE_PIECES = 12
      REST = "\0rest"
      ABSENT = "\0absent"

      # @!attribute name [String]
      # @!attribute type [String] see {Measure::ValueType}
      # @!attribute events [Integer] that have it
      # @!attribute distinct [Integer] values; at least so many when `cut`
      # @!attribute cut [Boolean] whether there were too many values to keep all
      # @!attribute values [Array<Value>] commonest first
      # @!attribute numbers [Hash, nil] of numeric fields: min, median, p95, max, unit, and edges and counts of a
      #   histogram
      # @!attribute difference [Float, nil] bits, see {Measure::Divergence}; nil when there is nothing to set it against
      Field = Struct.new(:name, :type, :events, :distinct, :cut, :values, :numbers, :difference)
      # @!attribute before [Integer, nil] events on the other side, and `expected` the same at this side's length
      # @!attribute change [String, nil] new, gone, more, less or same
      Value = Struct.new(:value, :events, :before, :expected, :log_p, :change)

      # @return [Integer] events
      attr_reader :total

      def initialize(question, against: nil)
        super
        @total = 0
        @other_total = 0
        @fields = {}
        @others = {}
        @cut = Set.new
      end

      # @return [Array<Field>]
      def rows
        names = @against ? @fields.keys | @others.keys : @fields.keys
        fields = names.map { |name| field(name, @fields[name] || {}, @others[name] || {}) }
        Compare::Change.judge(fields.flat_map(&:values), *times) if @against
        fields.sort_by { |field| [-(field.difference || -1), -field.events, field.name] }
      end

      # @return [Integer] other lines of the window that the question's were set against; 0 when they are compared, or
      #   all
      attr_reader :other_total

      private

      def task = :field_counts
      def options(_) = {}
      def sides = [@question, @against || others].compact

      def others = (@rest ||= @question.rest unless @question.everything?)

      def jobs(question)
        return super unless question.equal?(@rest)

        pieces = question.jobs(task, size: SAMPLE / SAMPLE_PIECES)
        pieces.sample(SAMPLE_PIECES, random: Random.new(1))
      end

      def take(result, side, job)
        side = :against if @rest && job.spec.equal?(@rest.spec)
        total, fields = result
        side == :against ? @other_total += total : @total += total
        into = side == :against ? @others : @fields
        fields.each { |name, values| merge(name, into[name] ||= {}, values) }
      end

      def merge(name, known, values)
        values.each do |value, n|
          if known.key?(value) || known.size < MOST_VALUES
            known[value] = (known[value] || 0) + n
          else
            @cut << name
            known[REST] = (known[REST] || 0) + n
          end
        end
      end

      def field(name, values, others)
        # A line may have several values of a field.
        events = [values.values.sum, @total].min
        shown = values.reject { |value, _| value == REST }
        type, numbers = Measure::Summary.of(name, shown)
        Field.new(
          name, type, events, shown.size, @cut.include?(name), top(shown, others), numbers, difference(values, others)
        )
      end

      def top(values, others)
        keys = values.max_by(SHOWN) { |_, n| n }.sort_by { |value, n| [-n, value.b] }.map(&:first)
        keys |= others.max_by(SHOWN) { |_, n| n }.map(&:first) - [REST] if @against
        keys.map do |value|
          before = @against && others.fetch(value, 0)
          Value.new(value, values.fetch(value, 0), before, before && expected(before))
        end
      end

      def difference(values, others)
        return if others.empty? || values.empty?

        apart =
          [values, others].flat_map do |counts|
            counts.max_by(TOLD_APART) { |_, n| n }.select { |_, n| n > 1 }.map(&:first)
          end
            .uniq - [REST]
        sides = [[values, @total], [others, @other_total]].map do |counts, total|
          told = apart.to_h { |value| [value, counts.fetch(value, 0)] }
          all = counts.values.sum
          told.merge(REST => all - told.values.sum, ABSENT => [total - all, 0].max)
        end
        Measure::Divergence.between(*sides)
      end
    end
  end
end
