# frozen_string_literal: true

module Northdrift
  module Store
    # Notices what is unusual without a rule for it: hours of patterns, services and machines as they end, new patterns
    # and values as they come.
    class OddityNoticing
      # How far hours were judged, as an hour since 1970.
      DONE = "unusual until"
      # Hours that are judged again, since lines may be late.
      AGAIN = 2
      # Of what is stored already when it is looked for the first time, so many hours.
      MOST_HOURS = 60 * 24
      HOUR = Rollup::HOUR
      # What is unusual of one of these is less so than of a line that says how bad it is.
      SEVERITY_OF_VOLUME = { "more" => Severity::NOTICE, "less" => Severity::WARNING }.freeze

      # @param now_us [Integer]
      def initialize(now_us)
        @now_us = now_us
      end

      # @return [Integer, nil] until when hours were judged
      def self.judged_us = Setting.get(DONE)&.then { |hour| hour.to_i * HOUR }

      # @return [Boolean] whether all was looked at; otherwise it goes on where it was left
      def run
        first_us, last_us = Span.all
        to = [@now_us, last_us].min / HOUR
        done = Setting.get(DONE)&.to_i
        from = [done ? done - AGAIN : first_us / HOUR, to - MOST_HOURS].max
        series = UnusualSeries.new(from...to)
        values = UsualValues.new(series, to)
        found = judged(series, from, to, done) + values.found
        Database.step do
          found.each { |kind, subject, about| Oddity.note(kind, subject, @now_us, **weighed(kind, about)) }
          values.keep
          Oddity.forget(first_us)
          Oddity.settle(@now_us)
          Setting.set(DONE, to.to_s)
        end
        values.all?
      end

      private

      def judged(series, from, to, done)
        # Hours are judged as they end, and then it is seen how what is new goes on.
        over = done != to && from < to
        fresh = NewPatterns.new(series, (over ? [from, to - NewPatterns::NEW_HOURS].min : from)..to).found
        over ? fresh + departures(series, from...to) : fresh
      end

      # What is less of a machine is not told of its services and patterns once more; what is more of a pattern is not
      # told of its service and machine.
      def departures(series, hours)
        machines, services = volumes(series, hours)
        patterns = patterns(series, hours)
        quiet = explained(machines, "less")
        services.reject! { |voice, run| run.direction == "less" && within?(quiet, voice.machine, run) }
        quiet_voices = explained(services, "less")
        patterns.reject! do |pattern, run|
          run.direction == "less" && series.voices_of(pattern).all? do |voice|
            within?(quiet, voice.machine, run) || within?(quiet_voices, voice, run)
          end
        end
        [*of_patterns(series, patterns), *of_volumes(louder(series, patterns, services, machines))]
      end

      # @return [Array(Array, Array)] of machines, by name, and of services, by {UnusualSeries::Voice}
      def volumes(series, hours)
        voices = series.voices
        machines = voices.keys.group_by(&:machine).map do |machine, own|
          counts = own.map { |voice| voices[voice] }.reduce { |one, other| one.merge(other) { |_, a, b| a + b } }
          [machine, counts, own.map { |voice| series.since[voice] }.min]
        end
        services = voices.filter_map { |voice, counts| [voice, counts, series.since[voice]] if voice.service }
        [machines, services].map { |all| runs(all, hours) }
      end

      def patterns(series, hours)
        all = series.patterns.map do |pattern, counts|
          since = series.voices_of(pattern).filter_map { |voice| series.since[voice] }.min
          [pattern, counts, since]
        end
        # What is new is told as such.
        runs(all, hours).reject { |pattern, run| series.new?(pattern, run.from) }
      end

      def runs(all, hours)
        all.select(&:last).flat_map do |subject, counts, since|
          Northdrift::Unusual::Runs.of(counts, hours, since).map { |run| [subject, run] }
        end
      end

      def explained(runs, direction)
        runs.select { |_, run| run.direction == direction }.group_by(&:first).transform_values { |all| all.map(&:last) }
      end

      def within?(explained, subject, run)
        explained.fetch(subject, []).any? { |one| one.from <= run.to && run.from <= one.to }
      end

      def louder(series, patterns, services, machines)
        by_voice = explained(patterns, "more").each_with_object({}) do |(pattern, some), all|
          series.voices_of(pattern).each { |voice| (all[voice] ||= []).concat(some) }
        end
        services = services.reject { |voice, run| run.direction == "more" && within?(by_voice, voice, run) }
        loud = [*by_voice, *explained(services, "more")].each_with_object({}) do |(voice, some), all|
          (all[voice.machine] ||= []).concat(some)
        end
        services + machines.reject { |machine, run| run.direction == "more" && within?(loud, machine, run) }
          .map { |machine, run| [UnusualSeries::Voice.new(machine, nil), run] }
      end

      def of_patterns(series, patterns)
        patterns.map do |pattern, run|
          [run.direction, "pattern #{pattern}",
           { pattern_id: pattern, severity: series.worst(pattern, run.from..run.to), **of_run(run),
             **NewPatterns.who(series.voices_of(pattern)) }]
        end
      end

      def of_volumes(volumes)
        volumes.map do |voice, run|
          [run.direction, "volume #{voice.to_a.compact.join(' ')}",
           { machine: voice.machine, service: voice.service, severity: SEVERITY_OF_VOLUME.fetch(run.direction),
             **of_run(run) }]
        end
      end

      def of_run(run)
        { lines: run.lines, expected: run.expected.round(1), surprise: -run.log_p / Math.log(10),
          from_us: run.from * HOUR, last_us: ((run.to + 1) * HOUR) - 1 }
      end

      def weighed(kind, values)
        values.merge(priority: Northdrift::Unusual::Priority.of(kind, values[:surprise], values[:severity]))
      end
    end
  end
end
