# frozen_string_literal: true

module Northdrift
  module Store
    # The lines of a question in the order in which they happened, where some clocks are known to be off. The window is
    # one of true time, too.
    class TrueTime
      # @!attribute machine [String]
      # @!attribute from_us [Integer] the stretch of the machine's own time that it holds for; to is not included
      # @!attribute to_us [Integer]
      # @!attribute by_us [Integer] what has to be added to its own time
      Shift = Struct.new(:machine, :from_us, :to_us, :by_us)

      # Lines that are shifted alike, and the question that finds them.
      Group = Struct.new(:question, :by_us)

      # Lines of the same moment that a page looks beyond.
      SAME = 50

      # @param question [Question]
      # @param shifts [Array<Shift>]
      def initialize(question, shifts)
        @question = question
        @shifts = shifts
        @groups = groups
      end

      # @return [Integer] microseconds UTC at which an event truly happened
      def of(event)
        shift =
          @shifts.find do |one|
            one.machine == event.machine && event.time_us >= one.from_us && event.time_us < one.to_us
          end
        event.time_us + (shift ? shift.by_us : 0)
      end

      # As {Question#page}, in true order; `at` is a moment of true time.
      # @return [Question::Page]
      def page(after: nil, before: nil, around: nil, at: nil, last: false, limit: Question::LIMIT)
        place = place(after || before || around) || (at && [at, 0])
        return middle(place, limit) if around || at
        return forward(place, limit) unless before || last

        backward(place, limit)
      end

      private

      def groups
        machines = @shifts.map(&:machine).uniq
        others = machines.reduce(@question) { |question, machine| question.narrowed("not #{is(machine)}") }
        [Group.new(others, 0), *machines.flat_map { |machine| of_machine(machine) }]
      end

      # A machine's time falls into stretches, each of which is shifted by as much, or not at all.
      def of_machine(machine)
        mine = @shifts.select { |shift| shift.machine == machine }.sort_by(&:from_us)
        edges = [*mine.flat_map { |shift| [shift.from_us, shift.to_us] }, @question.from_us, @question.to_us].uniq.sort
        [nil, *edges, nil].each_cons(2).filter_map do |from_us, to_us|
          by_us = mine.find { |shift| from_us && from_us >= shift.from_us && from_us < shift.to_us }&.by_us.to_i
          within(
            machine, [from_us, @question.from_us - by_us].compact.max, [to_us, @question.to_us - by_us].compact.min,
            by_us
          )
        end
      end

      def within(machine, from_us, to_us, by_us)
        return unless to_us > from_us

        Group.new(
          Question.new(
            **@question.spec, chips: [*@question.spec[:chips], is(machine)], from_us: from_us, to_us: to_us
          ), by_us
        )
      end

      def is(machine) = "host.name = \"#{machine.gsub(/["\\]/) { |char| "\\#{char}" }}\""

      # @return [Array(Integer, Integer), nil] true time and id: what the order goes by
      def place(id)
        event = id && Events.find(id)
        event && [of(event), id]
      end

      def key(event) = [of(event), event.id]

      def forward(place, limit)
        found =
          gather(limit) do |group, size|
            group.question.page(after: place && (EventId.first(place[0] - group.by_us) - 1), limit: size)
          end
        found = found.select { |event| (key(event) <=> place) == 1 } if place
        Question::Page.new(found.first(limit), !place.nil?, found.size > limit)
      end

      def backward(place, limit)
        found =
          gather(limit) do |group, size|
            if place
              group.question.page(before: EventId.first(place[0] - group.by_us + EventId::MILLISECOND), limit: size)
            else
              group.question.page(last: true, limit: size)
            end
          end
        found = found.select { |event| (key(event) <=> place) == -1 } if place
        Question::Page.new(found.last(limit), found.size > limit, !place.nil?)
      end

      def middle(place, limit)
        return forward(nil, limit) unless place

        before = backward(place, limit / 2)
        after = forward([place[0], place[1] - 1], limit - (limit / 2))
        Question::Page.new(before.events + after.events, before.more_before, after.more_after)
      end

      def gather(limit) = @groups.flat_map { |group| yield(group, limit + SAME).events }.sort_by { |event| key(event) }
    end
  end
end
