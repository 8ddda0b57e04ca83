# frozen_string_literal: true

module Northdrift
  module Store
    # How far the clocks of the machines are apart within a window: by exchanges that several machines saw, by links
    # that both ends tell of, and by the steps that the machines' own logs tell of.
    class ClockSurvey < Survey
      # Fields whose value is of one exchange.
      SHARED = %w[request.id trace.id correlation.id transaction.id].freeze
      # A step is looked for so long after the window.
      AFTER_US = 14 * 86_400_000_000
      MOST_STEPS = 500
      MOST_LINKS = 2000

      # @!attribute machine [String]
      # @!attribute from_us [Integer] the stretch of its own time that it holds for; to is not included
      # @!attribute to_us [Integer]
      # @!attribute offset_us [Integer] by which its clock is ahead; behind when negative
      # @!attribute error_us [Integer, nil] by which that may be wrong; nil when its log told it
      # @!attribute exchanges [Integer] or moments of a link that agree
      # @!attribute told_us [Integer, nil] the offset that its log tells of
      # @!attribute stepped_us [Integer, nil] when it was set
      # @!attribute step_id [Integer, nil] the line that says so
      Clock = Struct.new(:machine, :from_us, :to_us, :offset_us, :error_us, :exchanges, :told_us, :stepped_us, :step_id)

      # @param from_us [Integer]
      # @param to_us [Integer]
      def initialize(from_us, to_us)
        names = SHARED & Kinds.current.field_names.to_a
        @shared = names
        super(
          Question.new(
            find:
              names.empty? ? "has request.id and not has request.id" : names.map { |name| "has #{name}" }.join(" or "),
            from_us: from_us, to_us: to_us, checked: false
          )
        )
        @seen = {}
        @steps = steps
      end

      # @return [Array<Clock>] of machines that exchange something, or whose clock was set; the most wrong first
      def rows
        offsets = Clocks::Offsets.new
        @seen.each_value { |sightings| offsets.add(sightings) if sightings.size > 1 }
        links.bounds.each { |(one, other), bounds| bounds.each { |low, high| offsets.bound(one, other, low, high) } }
        found = offsets.all
        clocks = (found.keys | told.keys).map { |clock| clock(clock, found[clock]) }
        clocks.sort_by { |clock| [-clock.offset_us.abs, clock.machine, clock.from_us] }
      end

      # @return [Integer] exchanges seen by more than one machine
      def total = @seen.count { |_, sightings| sightings.size > 1 }

      private

      def task = :sightings
      def options(_) = { fields: @shared }

      def take(result, _side, _job)
        result.each do |(field, value, machine), (first, last)|
          # A stretch may end within an exchange; each end belongs to its own.
          sightings = @seen[[field, value]] ||= {}
          clock = [machine, stretch(machine, first)]
          known = sightings[clock]
          sightings[clock] = known ? [[known[0], first].min, [known[1], last].max] : [first, last]
        end
      end

      # @return [Hash{String=>Array}] moment, amount and line of each step, by machine, in order of time
      def steps
        lines =
          Question
            .new(find: Clocks::Steps::FIND, from_us: @question.from_us, to_us: @question.to_us + AFTER_US)
            .page(limit: MOST_STEPS)
            .events
        lines
          .filter_map do |event|
            event.machine &&
              Clocks::Steps.of(event.message)&.then { |by_us| [event.machine, event.time_us, by_us, event.id] }
          end
          .group_by(&:first)
      end

      # @return [Clocks::Links] of the first lines that tell of any
      def links
        Clocks::Links.new(Kinds.current.filter_map(&:machine)).tap do |links|
          page =
            Question.new(find: Clocks::Links::FIND, from_us: @question.from_us, to_us: @question.to_us).page(
              limit: MOST_LINKS
            )
          page.events.each do |event|
            next unless event.machine

            links.add(
              event.machine, [event.machine, stretch(event.machine, event.time_us)], event.time_us, event.message
            )
          end
        end
      end

      # @return [Integer] how many steps the machine's clock has made before a moment
      def stretch(machine, moment_us) = @steps.fetch(machine, []).count { |_, at_us, _| at_us <= moment_us }

      # What the logs tell: before a step the clock was off by as much, if it was right after it.
      # @return [Hash{Array(String, Integer)=>Array(Integer, Integer, Integer)}] offset, when it was set, and the line
      def told
        @told ||= @steps.flat_map do |machine, steps|
          steps.each_with_index.select { |_, index| index.zero? || steps[index - 1][1] < @question.to_us }
            .map { |(_, at_us, by_us, id), index| [[machine, index], [-by_us, at_us, id]] }
        end.to_h
      end

      def clock((machine, stretch), found)
        steps = @steps.fetch(machine, [])
        told_us, stepped_us, step_id = told[[machine, stretch]]
        sure = found && (told_us.nil? || found.offset_us.abs >= Clocks::Offsets::SAME_US)
        Clock.new(
          machine, stretch.zero? ? @question.from_us : [steps[stretch - 1][1], @question.from_us].max,
          stepped_us ? [stepped_us, @question.to_us].min : @question.to_us, sure ? found.offset_us : told_us,
          sure ? found.error_us : nil, found&.exchanges.to_i, told_us, stepped_us, step_id
        )
      end
    end
  end
end
