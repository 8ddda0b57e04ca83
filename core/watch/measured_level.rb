# frozen_string_literal: true

module Northdrift
  module Watch
    # A measure and the levels that it may go beyond, as a rule gives them.
    class MeasuredLevel
      # State of a measure that is looked at again after a pause goes back so many steps.
      STEPS = 24
      MOST_FOR_US = 86_400_000_000

      # @param values [Hash{String=>Object}] of the condition: "of" (such as p95(duration_ms)), "above" or "below", and
      #   as one likes "critical", "back" and "for"
      # @raise [Rules::Mistake]
      def initialize(values)
        @clause = clause(values["of"].to_s)
        raise mistake("above", "say above or below what, one of them") unless values.key?("above") ^ values.key?("bel" \
                                                                                                                 "ow")

        @below = values.key?("below")
        if @below && @clause.aggregate == "count"
          raise mistake("below", "that there are fewer lines is a condition of its own")
        end

        @bounds = bounds(values, @below ? "below" : "above")
        @for_us = duration(values["for"])
      end

      # @param step_us [Integer]
      # @return [Level]
      def condition(step_us) = Level.new(@clause.way, step_us, @bounds, below: @below, for_us: @for_us)

      # @param level [Float, nil] nil for all levels that it has
      # @return [Level] the same of steps that are measured already: each comes once, with its measure
      def of_measures(step_us, level = nil)
        bounds = level ? Level::Bounds.new(warning: level, back: level) : @bounds
        Level.new(Measure::Aggregate::ALL.fetch("max"), step_us, bounds, below: @below, for_us: @for_us)
      end

      # @return [Measure::Aggregate::Way]
      def way = @clause.way

      # @return [Float]
      def warning = @bounds.warning

      # @return [Float, nil]
      def critical = @bounds.critical

      # @return [String] such as p95(duration_ms)
      def measure = @clause.field ? "#{@clause.aggregate}(#{@clause.field})" : @clause.aggregate

      # @return [String, nil] the field that is measured
      def field = @clause.field

      # @param fields [Hash{String=>Object}] of a line
      # @return [Object, nil] in the base unit, where it is a number
      def value(fields)
        return true unless @clause.field

        value = fields[@clause.field]
        return value if value.nil? || !way.numeric

        measured(value.to_s)
      end

      # What is measured comes again and again.
      MOST_NUMBERS = 10_000

      # @param text [String]
      # @return [Float, nil]
      def measured(text)
        @numbers ||= {}
        @numbers.clear if @numbers.size >= MOST_NUMBERS
        @numbers.fetch(text) { @numbers[text] = Measure::ValueType.number(@clause.field, text) }
      end
      private :measured

      # @return [String, nil] that of the levels
      def unit = @clause.field && way.numeric ? Measure::ValueType.unit_of(@clause.field, "1") : nil

      # @return [Integer]
      def reach_us(step_us) = @for_us + (STEPS * step_us)

      # @return [String] such as "p95(duration_ms) above 2 s within 5 min"
      def in_words(step_us)
        text = ->(value) { Measure::Units.text(value, unit) }
        said = "#{measure} #{@below ? 'below' : 'above'} #{text[@bounds.warning]}"
        said += ", critical #{text[@bounds.critical]}" if @bounds.critical
        said += ", back at #{text[@bounds.back]}" if @bounds.back != @bounds.warning
        said += " within #{Rule.time(step_us)}"
        @for_us.positive? ? "#{said} for #{Rule.time(@for_us)}" : said
      end

      private

      # A field that no line has yet is no mistake: it is waited for.
      def clause(text)
        found = Measure::Clause.parse(text, known: -> { [text[/\((.*)\)/, 1].to_s.strip.delete('"')] })
        return found if found.by.empty? && found.step_us.nil?

        raise mistake("of", "of is a measure alone, such as p95(duration_ms)")
      rescue Find::Mistake => error
        raise mistake("of", "of: #{error.message}")
      end

      def bounds(values, name)
        warning = number(name, values[name])
        critical = number("critical", values["critical"]) if values.key?("critical")
        back = values.key?("back") ? number("back", values["back"]) : warning
        if critical && (@below ? critical > warning : critical < warning)
          raise mistake("critical", "critical lies beyond #{name}")
        end
        raise mistake("back", "back lies on this side of #{name}") if @below ? back < warning : back > warning

        Level::Bounds.new(warning: warning, critical: critical, back: back)
      end

      def number(part, value)
        found = Measure::ValueType.number(@clause.field.to_s, value.to_s)
        found or raise mistake(part, "#{part} is a number, such as 2500 or 2.5s")
      end

      def duration(value)
        return 0 if value.to_s.empty?

        quantity = Find::Quantity.parse(value.to_s)
        us = (quantity.base * Rule::SECOND_US).round if quantity&.dimension == :time
        return us if us&.between?(0, MOST_FOR_US)

        raise mistake("for", "for is a time up to 1d, such as 10min")
      end

      def mistake(part, message) = Rules::Mistake.new(part, message)
    end
  end
end
