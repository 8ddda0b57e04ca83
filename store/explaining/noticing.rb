# frozen_string_literal: true

module Northdrift
  module Store
    # Happenings that no line tells: that a machine fell silent, or wrote far more or less than it does.
    class Noticing
      SILENCE = "silence"
      VOLUME = "volume"
      # How far it was looked.
      DONE = "noticed"
      # What was noticed as going on is looked at again.
      AGAIN_US = Question::DAY_US
      MINUTE_US = 60_000_000
      # Shorter silences are of nobody's interest a day later.
      SHORTEST_US = 15 * MINUTE_US

      # @param now_us [Integer] microseconds
      def initialize(now_us)
        @now_us = now_us
      end

      # Looks from where it was looked last.
      # @return [Integer] how many happenings there are of that time
      def run
        first_us, last_us = Span.all
        to_us = [@now_us, last_us].min
        from_us = [[Setting.get(DONE).to_i - AGAIN_US, first_us].max, to_us].min
        found = silences(from_us, to_us) + departures(from_us, to_us)
        ActiveRecord::Base.transaction do
          Database.rows(
            "DELETE FROM happenings WHERE rule IN (?, ?) AND event_id >= ?", [SILENCE, VOLUME, EventId.first(from_us)]
          )
          found.each { |time_us, happening| Happenings.put(Happenings.free_id(time_us), happening) }
          Setting.set(DONE, to_us.to_s)
        end
        found.size
      end

      private

      def silences(from_us, to_us)
        Silences
          .of(from_us, to_us)
          .select { |one| one.to_us - one.from_us >= SHORTEST_US && one.from_us >= from_us }
          .map do |one|
            span = words(one.to_us - one.from_us)
            fields = {
              "from_us" => one.from_us.to_s, "to_us" => one.to_us.to_s, "open" => one.open.to_s,
              "usual" => words(one.usual_us)
            }
            says =
              if one.open
                "is silent, for #{span} by now; it usually speaks within #{fields['usual']}"
              else
                "said nothing for #{span}; it usually speaks within #{fields['usual']}"
              end
            [
              one.from_us,
              happening(SILENCE, one.machine, one.open ? Severity::WARNING : Severity::NOTICE, says, fields)
            ]
          end
      end

      # Of hours that are over.
      def departures(from_us, to_us)
        hours = (from_us / Rollup::HOUR)...(to_us / Rollup::HOUR)
        return [] if hours.none?

        since = Span.all.first / Rollup::HOUR
        by_machine(
          hours.begin - ((Logbook::Departures::DAYS + 1) * Logbook::Departures::HOURS), hours.end
        ).flat_map do |machine, counts|
          Logbook::Departures
            .in_hours(counts, hours, [since, counts.keys.min].max)
            .map { |one| [one.from * Rollup::HOUR, departure(machine, one)] }
        end
      end

      def departure(machine, one)
        usual = one.direction == "more" ? "at most #{one.usual}" : "at least #{one.usual}"
        says =
          "wrote #{one.direction} than usual: #{one.most} lines an hour, where #{usual} are usual" \
          "#{", for #{one.to - one.from + 1} hours" if one.to > one.from}"
        fields = {
          "lines" => one.most.to_s, "usual" => one.usual.to_s, "direction" => one.direction,
          "to_us" => ((one.to + 1) * Rollup::HOUR).to_s
        }
        happening(VOLUME, machine, one.level == "alarm" ? Severity::WARNING : Severity::NOTICE, says, fields)
      end

      def by_machine(first, last)
        machines = Kinds.current.to_h { |kind| [kind.id, kind.machine] }
        slots = Rollup::HOUR / Rollup::SLOT
        rows =
          Database.rows(
            "SELECT kind_id, slot / #{slots}, sum(n) FROM kind_counts WHERE slot >= ? AND slot < ? GROUP BY 1, 2",
            [first * slots, last * slots]
          )
        rows.each_with_object(Hash.new { |all, name| all[name] = Hash.new(0) }) do |(kind, hour, n), all|
          machines[kind] && all[machines[kind]][hour] += n
        end
      end

      def happening(kind, machine, severity, says, fields)
        Logbook::Happening.new(kind, kind, severity, machine, nil, says, fields)
      end

      # @return [String] 47 min, 2 h 5 min, 40 s, 12 days
      def words(us)
        return "#{us / 1_000_000} s" if us < MINUTE_US

        hours, minutes = (us / MINUTE_US).divmod(60)
        return "#{hours / 24} days" if hours >= 72

        hours.zero? ? "#{minutes} min" : "#{hours} h#{" #{minutes} min" if minutes.positive?}"
      end
    end
  end
end
