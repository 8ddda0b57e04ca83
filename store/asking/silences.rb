# frozen_string_literal: true

module Northdrift
  module Store
    # Silences of all machines within a window. Short windows are judged line by line, with what came before them as the
    # measure of what is usual; long ones by the roll-up's ten minutes.
    module Silences
      # More lines than this are not looked at one by one.
      MOST_LINES = 150_000

      module_function

      # @return [Array<Measure::Silence::Found>] in order of time
      def of(from_us, to_us)
        reference_us = from_us - [(to_us - from_us) * 2, 2 * 3_600_000_000].min
        times = lines(reference_us, to_us) <= MOST_LINES ? by_line(reference_us, to_us) : by_slot(reference_us, to_us)
        end_us = [to_us, Span.all.last].min
        found = times.flat_map { |machine, moments| Measure::Silence.in_times(machine, moments, end_us) }
        found.select { |silence| silence.to_us > from_us }.sort_by(&:from_us)
      end

      # Of whole minutes.
      def lines(from_us, to_us)
        first, last = [from_us, to_us].map { |time_us| time_us / Rollup::MINUTE }
        Question.new(from_us: first * Rollup::MINUTE, to_us: (last + 1) * Rollup::MINUTE).total
      end
      private_class_method :lines

      def by_line(from_us, to_us)
        grouped(
          Database.rows(
            "SELECT kind_id, id >> #{EventId::TIME_BITS} FROM events WHERE id BETWEEN ? AND ? ORDER BY id",
            [EventId.first(from_us), EventId.first(to_us) - 1]
          ), EventId::MILLISECOND
        )
      end
      private_class_method :by_line

      def by_slot(from_us, to_us)
        grouped(Database.rows("SELECT DISTINCT kind_id, slot FROM kind_counts WHERE slot BETWEEN ? AND ? ORDER BY slot",
                              [from_us / Rollup::SLOT, to_us / Rollup::SLOT]), Rollup::SLOT)
      end
      private_class_method :by_slot

      # Times of kinds become times of machines. Lines within a second are one sign of life.
      def grouped(rows, unit)
        kinds = Kinds.current
        machines = Hash.new { |cache, id| cache[id] = kinds[id].machine }
        rows.each_with_object({}) do |(kind_id, time), times|
          machine = machines[kind_id] or next
          moments = times[machine] ||= []
          micros = time * unit
          moments << micros if moments.empty? || micros - moments.last >= Reading::Clock::SECOND
        end
      end
      private_class_method :grouped
    end
  end
end
