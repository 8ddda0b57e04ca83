# frozen_string_literal: true

require "active_support"
require "active_support/time"

module Northdrift
  module Fleet
    # How long machines were up, down and silent, per day. Down is from the last line before a start to that start, as
    # the restart verdicts have it; silent is a stretch without lines where there normally are some, as far as it was
    # not down; up is the rest of the time since its first line. A machine that is silent need not be down: what it was
    # cannot be told from its lines.
    class Availability
      SECOND_US = 1_000_000

      # @!attribute machine [String]
      # @!attribute state [Symbol] :down or :silent
      # @!attribute cause [Object] what tells it
      Stretch = Struct.new(:machine, :state, :from_us, :to_us, :cause)

      # @!attribute day_us [Integer] where the day starts
      # @!attribute known_us [Integer] microseconds of the day that are judged
      Day = Struct.new(:day_us, :known_us, :down_us, :silent_us) do
        def up_us = known_us - down_us - silent_us
      end

      # @param from_us [Integer]
      # @param to_us [Integer]
      # @param since [Hash{String=>Integer}] first line of each machine, microseconds
      # @param stretches [Array<Stretch>]
      # @param zone [ActiveSupport::TimeZone] whose days they are: some have 23 or 25 hours
      def initialize(from_us, to_us, since:, stretches:, zone: ActiveSupport::TimeZone["UTC"])
        @zone = zone
        @from_us = from_us
        @to_us = to_us
        @since = since
        @stretches = stretches.group_by(&:machine)
      end

      # @param machines [Array<String>]
      # @return [Array<Day>] of all of them together
      def days(machines)
        midnights.each_cons(2).map do |day_us, next_us|
          day = Day.new(day_us, 0, 0, 0)
          machines.each { |machine| add(day, next_us, machine) }
          day
        end
      end

      # @return [Array<Stretch>] of a machine, those that lie within the window
      def stretches(machine)
        @stretches.fetch(machine, []).select { |one| one.to_us > @from_us && one.from_us < @to_us }.sort_by(&:from_us)
      end

      private

      # @return [Array<Integer>] where the days start, and where the last one ends
      def midnights
        return [] if @to_us <= @from_us

        @midnights ||=
          (date(@from_us)..(date(@to_us - 1) + 1)).map do |date|
            @zone.local(date.year, date.month, date.day).to_i * SECOND_US
          end
      end

      def date(time_us) = @zone.at(time_us / SECOND_US).to_date

      def add(day, next_us, machine)
        since = @since[machine] or return
        from = [day.day_us, @from_us, since].max
        to = [next_us, @to_us].min
        return if to <= from

        down = merged(machine, :down, from, to)
        silent = merged(machine, :silent, from, to)
        day.known_us += to - from
        day.down_us += length(down)
        day.silent_us += length(silent) - overlap(silent, down)
      end

      # Stretches that do not overlap.
      def merged(machine, state, from, to)
        own =
          @stretches
            .fetch(machine, [])
            .select { |one| one.state == state }
            .map { |one| [[one.from_us, from].max, [one.to_us, to].min] }
            .select { |start, stop| stop > start }
            .sort
        own.each_with_object([]) do |(start, stop), all|
          all.any? && start <= all.last[1] ? all.last[1] = [all.last[1], stop].max : all << [start, stop]
        end
      end

      def length(stretches) = stretches.sum { |start, stop| stop - start }

      def overlap(one, other)
        one.sum { |from, to| other.sum { |start, stop| [[to, stop].min - [from, start].max, 0].max } }
      end
    end
  end
end
