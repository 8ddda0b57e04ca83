# frozen_string_literal: true

module Northdrift
  module Server
    module Cards
      # What is measured, beside what it is compared with, and since when its level is another.
      class Measured < Answer
        NAME = "measurement"
        ROUTE = "GET /api/measurements"
        # Where there is no line there is none of these; an average of nothing is not known.
        COUNTED = %w[count distinct].freeze

        def initialize(...)
          super
          clause = Measure::Clause.parse(asked("measure") || "count", known: -> { Store::Kinds.current.field_names })
          @clause = card.drawing.fit(clause)
          @measurement = Store::Measurement.new(question, clause: @clause, utc_offset: reader.utc_offset)
        end

        private

        def further = [@clause]

        def told(&)
          @measurement.count(&)
          before = against && Store::Measurement.new(against, clause: @clause, beside: @measurement).count(&)
          Present.measurement(@measurement).merge("before" => before && before(before), "trend" => trend)
        end

        def before(before)
          rows = @measurement.rows
          {
            "whole" => Present.group(before.whole), "groups" => before.named(rows).map { |row| Present.group(row) },
            "from_us" => against.from_us, "to_us" => against.to_us
          }
        end

        # Of the steps that the window has whole: the first and the last would be low for being cut off.
        def trend
          step_us = @measurement.step_us or return
          start_us = @measurement.start_us
          whole = @measurement.whole.steps
          steps = (0...@measurement.steps).select do |step|
            from_us = start_us + (step * step_us)
            from_us >= question.from_us && from_us + step_us <= question.to_us && (counted? || whole[step])
          end
          change = Measure::ChangePoint.of(steps.map { |step| whole[step] || 0 }) or return
          { "at_us" => start_us + (steps[change.at] * step_us), "before" => change.before, "after" => change.after,
            "p" => change.p }
        end

        def counted? = COUNTED.include?(@clause.aggregate)
      end
    end
  end
end
