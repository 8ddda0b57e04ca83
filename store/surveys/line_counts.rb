# frozen_string_literal: true

module Northdrift
  module Store
    # How many lines of a question there are, by step of time and values of fields.
    class LineCounts
      # Lines by these are counted without a look at each, and mostly by the roll-ups.
      WITHOUT_LOOK = { [] => [nil], ["host.name"] => [:machine], ["service.name"] => [:service] }.freeze
      COUNT = Measure::Clause.new("count", nil, [], nil, Measure::Clause::TOP).freeze

      # @param question [Question]
      # @param by [Array<String>] fields
      def initialize(question, by)
        @question = question
        @by = by
      end

      # @return [Boolean] whether they are counted without a look at each
      def without_look? = WITHOUT_LOOK.key?(@by - ["severity"])

      # @param start_us [Integer] where the first step starts
      # @param step_us [Integer]
      # @yield after each piece; what the block raises stops the work
      # @return [Hash{Array=>Integer}] by step and values
      def count(start_us:, step_us:, &tick)
        pieces = without_look? ? told(start_us, step_us, &tick) : looked_at(start_us, step_us, &tick)
        pieces.each_with_object(Hash.new(0)) do |groups, all|
          groups.each { |key, n| all[key] += n }
        end
      end

      private

      def told(start_us, step_us, &tick)
        lane, = WITHOUT_LOOK.fetch(@by - ["severity"])
        @question.in_pieces(:step_counts, by: lane, start_us: start_us, step_us: step_us, &tick).map do |counts|
          counts.each_with_object(Hash.new(0)) do |((step, severity, name), n), groups|
            values = { "severity" => Severity.name(severity) }
            groups[[step, *@by.map { |field| values.fetch(field, name) }]] += n
          end
        end
      end

      def looked_at(start_us, step_us)
        clause = COUNT.dup.tap { |one| one.by = @by }
        found = []
        Crew.each_result(@question.jobs(:gathered, clause: clause, start_us: start_us, step_us: step_us)) do |result|
          found << result["groups"]
          yield if block_given?
        end
        found
      end
    end
  end
end
