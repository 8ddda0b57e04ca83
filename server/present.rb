# frozen_string_literal: true

module Northdrift
  module Server
    # Hashes for JSON. Ids pass 2^53, so they are strings; texts are UTF-8.
    module Present
      TOGETHER = 8
      # Lanes that are told by name; a page draws fewer.
      MOST_SERIES = 100

      module_function

      # @param summary [Intake::Importer::Summary]
      def summary(summary)
        { "files" => summary.files, "lines" => summary.lines, "events" => summary.events, "bytes" => summary.bytes,
          "seconds" => summary.seconds.round(3), "unread" => summary.unread, "duplicates" => summary.duplicates,
          "results" => summary.results.map { |result| result(result) } }
      end

      # @param result [Intake::Importer::Result]
      def result(result)
        result
          .to_h
          .transform_keys(&:to_s)
          .merge("name" => Text.display(result.name), "readers" => result.readers.transform_keys(&:to_s))
      end

      # An event as one line of NDJSON.
      # @param event [Store::StoredEvent]
      # @param source [String] its name
      def record(event, source)
        {
          "id" => event.id.to_s, "time" => event.time, "severity" => Severity.name(event.severity),
          "host.name" => event.machine, "service.name" => event.service, "message" => event.message,
          "raw" => Text.utf8(event.raw), "source" => source, "line_number" => event.line, "fields" => event.fields
        }
      end

      # A row of the list.
      # @param true_time [Store::TrueTime, nil]
      def line(event, true_time = nil)
        {
          "id" => event.id.to_s, "time_us" => event.time_us,
          "true_us" => true_time ? true_time.of(event) : event.time_us, "severity" => event.severity,
          "machine" => event.machine, "service" => event.service, "message" => Text.display(event.message),
          "fields" => display(event.fields)
        }
      end

      # @param line [Store::IntakeRules::TurnedAway]
      def turned_away(line) = line.to_h.except(:id).transform_keys(&:to_s)

      # A feed and what came in by it.
      # @param volume [Store::FeedReport::Volume, nil]
      # @param sources [Array<Array(Store::Source, Store::FeedReport::Volume)>]
      def feed(feed, volume = nil, sources = [])
        {
          "id" => feed.id, "name" => Text.display(feed.name), "kind" => feed.kind,
          "settings" => feed.shown, "paused" => feed.paused, "problem" => feed.problem,
          "keep_days" => feed.keep_days, "lost" => feed.lost, "refused" => feed.refused,
          "volume" => volume && volume(volume), "sources" => sources.map { |source, own| feed_source(source, own) }
        }.merge(feed.authors)
      end

      def feed_source(source, volume)
        last = Store::FeedReport.last_line(source)
        {
          "id" => source.id, "name" => Text.display(source.name), "lines" => source.lines, "bytes" => source.bytes,
          "unread" => source.unread, "repeated" => source.repeated, "readers" => source.by_reader,
          "volume" => volume(volume), "last" => last && line(last)
        }
      end

      # @param volume [Store::FeedReport::Volume]
      def volume(volume) = volume.to_h.transform_keys(&:to_s).merge("lag_ms" => volume.lag_ms&.round)

      # Everything about an event, for the inspector.
      # @param source [Store::Source]
      def detail(event, source)
        traits = event.kind.traits
        reader = Reading::Catalogue[event.kind.reader]
        line(event).merge(
          "raw" => Text.display(event.raw), "bytes" => event.raw.bytesize, "source" => Text.display(source.name),
          "source_id" => source.id, "line_number" => event.line, "offset" => event.offset,
          "encoding" => source.encoding, "zone" => source.zone,
          "reader" => { "name" => reader::NAME.to_s, "title" => reader::TITLE, "why" => reader::WHY },
          "severity_rule" => Store::SeverityRule.of(event, source), "inferred" => traits["inferred"] || [],
          "note" => traits["note"], "pattern" => { "name" => event.pattern, "text" => event.pattern_text },
          "fleet" => (event.kind.fleet || {}).flat_map do |name, value|
            Array(value).map { |one| { "field" => name, "value" => one } }
          end,
          "remedies" => Cases.remedies(Store::KnownPatterns.current.of(event.template_id), Store::Case.remedies)
        )
      end

      # @param histogram [Store::Histogram]
      def histogram(histogram)
        {
          "start_us" => histogram.start_us, "step_us" => histogram.step_us, "steps" => histogram.steps,
          "total" => histogram.total, "folds" => histogram.folds.map { |fold| fold.to_h.transform_keys(&:to_s) },
          "fold_steps" => Store::Folds::STEPS,
          "series" =>
            histogram.series.first(MOST_SERIES).map do |one|
              { "name" => one.name, "total" => one.total, "counts" => by_step(one) }
            end,
          "others" => {
            "series" => [histogram.series.size - MOST_SERIES, 0].max, "counts" => by_step(histogram.others(MOST_SERIES))
          }
        }
      end

      # @param series [Store::Histogram::Series]
      def by_step(series) = series.counts.sort.map { |step, n| [step, *n] }

      # @param row [Store::PatternTable::Row]
      # @param remedies [Hash{Integer=>Array<Store::Case>}] by pattern
      def pattern(row, remedies = {})
        {
          "name" => "P#{row.id}", "text" => row.text, "count" => row.lines, "severities" => row.severities,
          "steps" => row.steps, "first_us" => row.first_id && Store::EventId.micros(row.first_id),
          "last_us" => row.last_id && Store::EventId.micros(row.last_id), "machines" => row.machines.compact.sort,
          "first_time" => row.first_time, "with" => row.with && "P#{row.with}",
          "remedies" => Cases.remedies(row.id, remedies)
        }.merge(change(row))
      end

      # @param detail [Store::PatternDetail]
      def pattern_detail(detail)
        { "total" => detail.total,
          "places" => detail.places.map do |place|
            {
              "type" => place.type, "distinct" => place.distinct, "numbers" => place.numbers,
              "values" => place.values.map { |value, n| { "value" => Text.display(value), "count" => n } }
            }
          end,
          "together" => detail.together.first(TOGETHER).map do |row, both, chance, p|
            {
              "name" => "P#{row.id}", "text" => row.text, "count" => row.lines, "both" => both,
              "chance" => chance.round(2), "p" => p, "of" => Store::PatternTable::STEPS
            }
          end }
      end

      # @param clock [Store::ClockSurvey::Clock]
      def clock(clock) = clock.to_h.transform_keys(&:to_s).merge("step_id" => clock.step_id&.to_s)

      # How a count changed against the other side.
      # @param row [#before, #expected, #log_p, #change]
      def change(row)
        {
          "before" => row.before, "expected" => row.expected&.round(1),
          "log10_p" => row.log_p && (row.log_p / Math.log(10)).round(1).clamp(-1e6, 0.0), "change" => row.change
        }
      end

      # @param field [Store::FieldTable::Field]
      def field(field)
        {
          "name" => field.name, "type" => field.type, "count" => field.events, "distinct" => field.distinct,
          "cut" => field.cut, "numbers" => field.numbers, "difference" => field.difference&.round(4),
          "values" =>
            field.values.map do |value|
              { "value" => Text.display(value.value), "count" => value.events }.merge(change(value))
            end
        }
      end

      # @param row [Store::WordTable::Word]
      def word(row) = { "word" => row.word, "count" => row.events }.merge(change(row))

      # @param measurement [Store::Measurement]
      def measurement(measurement)
        clause = measurement.clause
        {
          "aggregate" => clause.aggregate, "field" => clause.field, "by" => clause.by, "unit" => measurement.unit,
          "total" => measurement.total, "measured" => measurement.measured, "start_us" => measurement.start_us,
          "step_us" => measurement.step_us, "steps" => measurement.steps, "found" => measurement.found,
          "groups" => measurement.rows.map { |row| group(row) },
          "other" => measurement.other && group(measurement.other), "whole" => group(measurement.whole)
        }
      end

      def group(row)
        {
          "by" => row.by&.map { |value| value && Text.display(value) }, "value" => row.value, "steps" => row.steps.sort
        }
      end

      # JavaScript knows whole numbers up to 2^53 (ECMA-262, Number.MAX_SAFE_INTEGER): what is larger goes as a text.
      SAFE = (-(1 << 53)..(1 << 53))

      def display(fields)
        fields.transform_values do |value|
          case value
          when String then Text.display(value)
          when Integer then SAFE.cover?(value) ? value : value.to_s
          else value
          end
        end
      end
    end
  end
end
