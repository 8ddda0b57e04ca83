# frozen_string_literal: true

module Northdrift
  module Store
    # Why machines and services started, from the logbook and the map of the fleet; and what could be looked at next.
    class Restarts
      # Around the moment in question.
      AROUND_US = 3_600_000_000
      # A machine that was not heard of for longer was not running, as far as lines tell.
      HEARD_US = Question::DAY_US
      # Lines by which a platform's audit trail is told.
      TRAIL = "(has method or has protoPayload.methodName)"

      # What would settle a question, and whether we have it.
      # @!attribute lines [Integer, nil] of it around the time; nil when it is not known of which machine
      Look = Struct.new(:says, :machine, :find, :lines)

      # @!attribute verdict [Logbook::Verdicts::Verdict]
      # @!attribute heard_us [Integer, nil] when it was last heard of before
      # @!attribute look [Array<Look>]
      Found = Struct.new(:verdict, :heard_us, :look) do
        # @return [Integer, nil] microseconds for which it was away
        def away_us = heard_us && (verdict.start.time_us - heard_us)
      end

      # @param from_us [Integer, nil]
      # @param to_us [Integer, nil]
      # @param machine [String, nil]
      def initialize(from_us: nil, to_us: nil, machine: nil)
        @from_us = from_us
        @to_us = to_us
        @machine = machine
        @dependencies = Fleet.current.dependencies
      end

      # @return [Integer] machines and services that started
      def total = starts.size

      # @return [Hash{String=>Integer}] how often machines started
      def machines = starts.reject(&:service).map(&:machine).tally

      # @param most [Integer, nil] the latest so many
      # @return [Array<Logbook::Verdicts::Verdict>] in order of time
      def verdicts(most: nil) = reasoning.all(most ? starts.last(most) : starts)

      # @param most [Integer] the latest so many
      # @return [Array<Found>]
      def found(most: 200)
        verdicts(most: most).map do |verdict|
          Found.new(verdict, heard(verdict), verdict.look.map { |look| look(look, verdict.start.time_us) })
        end
      end

      # When a machine, or a service of it, was last heard of before it started. What is told at the start itself says
      # nothing of that.
      # @return [Integer, nil]
      def heard(verdict)
        conditions = [
          Find::Spelling.equal("host.name", verdict.machine), verdict.service && own(verdict.start, verdict.service)
        ].compact
        Question
          .new(find: conditions.join(" "), from_us: verdict.began_us - HEARD_US, to_us: verdict.began_us)
          .page(last: true, limit: 1)
          .events
          .first
          &.time_us
      end

      private

      def reasoning
        @reasoning ||= begin
          from_us = @from_us && (@from_us - (2 * AROUND_US))
          happenings =
            Happenings.of(
              rules: Logbook::Verdicts.rules, kinds: Logbook::Verdicts.kinds, from_us: from_us,
              to_us: @to_us && (@to_us + AROUND_US)
            )
          Logbook::Verdicts.new(
            happenings,
            hosts: Hash.new { |all, name| all[name] = @dependencies.host(name) }, gathered: method(:gathered?),
            own: method(:own)
          )
        end
      end

      # Daemons that name themselves in no line have a file of their own.
      # @return [String] a condition that a service's own lines meet
      def own(start, service)
        named = Kinds.current.any? { |kind| kind.machine == start.machine && kind.service&.downcase == service }
        event = named ? nil : Events.find(start.id)
        source = event && Source.find_by(id: event.source_id)
        source ? Find::Spelling.equal("source", source.name) : Find::Spelling.equal("service.name", service)
      end

      def starts
        @starts ||=
          reasoning.starts.select do |one|
            (@machine.nil? || one.machine == @machine) && (@from_us.nil? || one.start_us >= @from_us) &&
              (@to_us.nil? || one.start_us < @to_us)
          end
      end

      def gathered?(host, from_us, to_us)
        Question
          .new(
            find: "#{Find::Spelling.equal('host.name', host)} #{TRAIL}", from_us: from_us - AROUND_US,
            to_us: to_us + AROUND_US, checked: false
          )
          .page(limit: 1)
          .events
          .any?
      end

      def look(look, around_us)
        return Look.new(look.says, nil, nil, nil) unless look.machine

        further = look.find.to_s.empty? ? nil : "(#{look.find})"
        find = [Find::Spelling.equal("host.name", look.machine), further].compact.join(" ")
        Look.new(
          look.says, look.machine, find,
          Question.new(find: find, from_us: around_us - AROUND_US, to_us: around_us + AROUND_US, checked: false).total
        )
      end
    end
  end
end
