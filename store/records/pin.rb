# frozen_string_literal: true

require "digest"
require "oj"

module Northdrift
  module Store
    # Something pinned to a case: kept whole, with the exact bytes of a line and their hash, whatever becomes of the
    # line.
    class Pin < Record
      self.table_name = "pins"

      # Who may not see everything sees the lines that they may see, what others of the same sight pinned, and words.
      SEEN =
        "pins.sight = ? OR pins.kind = 'note' OR EXISTS (SELECT 1 FROM events WHERE id = pins.event_id) OR " \
        "EXISTS (SELECT 1 FROM happenings WHERE happenings.event_id = pins.event_id)"

      default_scope { Sight.current && where(SEEN, Sight.find) }
      before_create { self.sight = Sight.find }

      scope :present, -> { where(deleted_us: nil) }

      # How far around a line its clock is judged by what it exchanged with others.
      CLOCK_US = 3 * 3_600_000_000
      # Somebody waits for it: where so much is exchanged that it takes longer, a part of the exchanges, from all over
      # that time, tells it.
      CLOCK_SECONDS = 1

      # @return [Hash{String=>Object}]
      def told = @told ||= Oj.load(content, mode: :strict)

      # @return [Cases::Report::Pin]
      def pin
        chart =
          told["chart"] &&
          Northdrift::Cases::Report::Chart.new(*told["chart"].values_at("start_us", "step_us", "counts"))
        Northdrift::Cases::Report::Pin.new(
          at_us: at_us, told_us: told["told_us"] || at_us, kind: kind, machine: told["machine"],
          severity: told["severity"], text: told["text"], note: note, raw: raw, sha256: sha256, source: told["source"],
          chart: chart
        )
      end

      # @param event [StoredEvent]
      # @param source [Source]
      # @return [Hash] attributes
      def self.of_line(event, source)
        raw = event.raw
        {
          kind: "line", at_us: truly(event.machine, event.time_us), event_id: event.id, pattern: event.pattern,
          raw: raw, sha256: Digest::SHA256.hexdigest(raw),
          content:
            dump(
              "told_us" => event.time_us, "machine" => event.machine, "service" => event.service,
              "severity" => event.severity, "text" => Text.display(event.message),
              "source" => Text.display("#{source.name}:#{event.line}")
            )
        }
      end

      # @param one [Happenings::Kept]
      # @return [Hash] attributes; with the line that tells it, as far as one does
      def self.of_happening(one)
        event = one.of_line? ? Events.find(one.id) : nil
        line = event ? of_line(event, Source.find(event.source_id)) : {}
        line.merge(
          kind: "happening", at_us: line[:at_us] || one.time_us, event_id: one.id,
          content:
            dump(
              "told_us" => event&.time_us || one.time_us, "machine" => one.machine, "service" => one.service,
              "severity" => one.severity, "text" => one.says, "happening" => one.kind,
              "source" => event && Oj.load(line[:content], mode: :strict)["source"]
            )
        )
      end

      # @param id [Integer] of a pattern
      # @param question [Question] where it was seen
      # @return [Hash] attributes
      def self.of_pattern(id, question)
        first = question.narrowed("pattern = P#{id}").page(limit: 1).events.first
        total = question.narrowed("pattern = P#{id}").total
        {
          kind: "pattern", at_us: first ? truly(first.machine, first.time_us) : question.from_us, pattern: "P#{id}",
          content:
            dump(
              "told_us" => first&.time_us || question.from_us, "machine" => first&.machine,
              "severity" => first&.severity, "text" => "#{total} lines of: #{KnownPatterns.current.text(id)}",
              "query" => question.spec[:find]
            )
        }
      end

      # @param question [Question]
      # @param text [String] what it shows, in words
      # @param query [String] the question as its link has it
      # @return [Hash] attributes
      def self.of_chart(question, text, query)
        histogram = question.histogram(bins: 96)
        counts = Array.new(histogram.steps) { Array.new(9, 0) }
        histogram.series.each do |series|
          series.counts.each { |step, by| by.each_with_index { |n, code| counts[step][code] += n } }
        end
        {
          kind: "chart", at_us: question.from_us,
          content:
            dump(
              "told_us" => question.from_us, "text" => text, "query" => query,
              "chart" => { "start_us" => histogram.start_us, "step_us" => histogram.step_us, "counts" => counts }
            )
        }
      end

      # @return [Hash] attributes
      def self.of_note(at_us, text) = { kind: "note", at_us: at_us, content: dump("text" => text) }

      def self.dump(object) = Oj.dump(object.compact, mode: :strict)
      private_class_method :dump

      # @return [Integer] when it happened by the clock that is right, as far as exchanges or the machine's log tell
      #   that its own was wrong
      def self.truly(machine, time_us)
        return time_us unless machine

        survey = ClockSurvey.new(time_us - CLOCK_US, time_us + CLOCK_US)
        ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + CLOCK_SECONDS
        catch(:enough) { survey.count { throw :enough if Process.clock_gettime(Process::CLOCK_MONOTONIC) > ends } }
        clock = survey.rows.find { |one| one.machine == machine && time_us >= one.from_us && time_us < one.to_us }
        sure = clock && (clock.error_us || (clock.stepped_us && (clock.stepped_us - time_us).between?(0, CLOCK_US)))
        sure && clock.offset_us.abs > 1_000_000 ? time_us - clock.offset_us : time_us
      end
      private_class_method :truly
    end
  end
end
