# frozen_string_literal: true

module Northdrift
  module Watch
    # Whether a measure is beyond a level: it is made of the lines of each step of time, whose ends are multiples of its
    # size. It holds from a step beyond the level on until one is back on this side of another level, which may lie
    # farther back, or has no value; and is told once it has held for so long. That a step has all of its lines can be
    # told only when none can come any more.
    class Level
      # @!attribute warning [Float]
      # @!attribute critical [Float, nil]
      # @!attribute back [Float]
      Bounds = Struct.new(:warning, :critical, :back, keyword_init: true)

      # @param way [Measure::Aggregate::Way]
      # @param step_us [Integer]
      # @param bounds [Bounds]
      # @param below [Boolean] whether beyond is below
      # @param for_us [Integer]
      def initialize(way, step_us, bounds, below:, for_us: 0)
        @way = way
        @step_us = step_us
        @bounds = bounds
        @below = below
        @for_us = for_us
        @steps = {}
        @last = nil
      end

      # @param time_us [Integer] of a line
      # @param value [Object] what is measured of it
      # @return [Array] nothing yet
      def add(time_us, _role, value)
        step = time_us.div(@step_us)
        return [] if value.nil? || (@last && step <= @last)

        @steps[step] = @way.add.call(@steps.fetch(step) { @way.start.call }, value)
        []
      end

      # @param before_us [Integer] nothing earlier comes any more
      # @return [Array<Array(Integer, Integer, Boolean)>] where it began to hold, the end of the step, and whether that
      #   was beyond the critical level
      def advance(before_us)
        done = @steps.keys.select { |step| (step + 1) * @step_us <= before_us }.sort
        told = done.filter_map { |step| look(step, @way.result.call(@steps.delete(step))) }
        # What holds is over where a step had no line.
        @since = nil if @last && (@last + 2) * @step_us <= before_us
        told
      end

      # @return [Boolean] whether it knows of nothing any more
      def empty? = @steps.empty? && @since.nil?

      private

      def look(step, value)
        @since = nil if @last && step > @last + 1
        @last = step
        if value && beyond?(value, @since ? @bounds.back : @bounds.warning)
          @since ||= step * @step_us
          ends = (step + 1) * @step_us
          return unless ends - @since >= @for_us

          [@since, ends, !@bounds.critical.nil? && beyond?(value, @bounds.critical)]
        else
          @since = nil
        end
      end

      def beyond?(value, level) = @below ? value < level : value > level
    end
  end
end
