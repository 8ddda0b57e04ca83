# frozen_string_literal: true

module Northdrift
  module Server
    module Asking
      # What commands ask, asked of a data folder. Answers are as the pages have them (docs/openapi.json), so that
      # {There} can take its place.
      class Here
        # Named, so that only what is asked is loaded: a survey, and how a row of it is told.
        SURVEYS = {
          "patterns" => %i[PatternTable pattern], "fields" => %i[FieldTable field], "words" => %i[WordTable word]
        }.freeze

        # @param dir [String] data folder
        def initialize(dir)
          Commands.check_there(dir)
          Store::Database.open(dir)
        end

        # @param words [String] such as "yesterday 06:00"
        # @param zone [String]
        # @return [Integer] microseconds UTC
        def moment(words, zone:)
          Windows::Words.new(zone: zone, now_us: Store::Clock.now_us, boots: Store::Boots.method(:latest)).moment(words)
        end

        # @param kind [String] patterns, fields or words
        # @param find [String]
        # @param window [Array(Integer, Integer)] microseconds UTC; nil for an open end
        # @param with [String, nil] see {Store::Question#compared_with}
        # @yieldparam done [Float] 0 to 1
        # @return [Hash]
        def survey(kind, find, window, with: nil, &block)
          question = question(find, window)
          survey, present = SURVEYS.fetch(kind)
          survey = Store.const_get(survey).new(question, against: with && question.compared_with(with))
          table = progress(survey, &block)
          { kind => table.rows.map { |row| Present.public_send(present, row) }, "total" => table.total }
        end

        # @param clause [String] see {Measure::Clause}
        # @return [Hash]
        def measurement(clause, find, window, &)
          clause = Measure::Clause.parse(clause, known: -> { Store::Kinds.current.field_names })
          Present.measurement(progress(Store::Measurement.new(question(find, window), clause: clause), &))
        end

        # @return [Integer]
        def total(find, window) = question(find, window).total

        # @param form [String] see {Export}
        # @param out [#<<]
        # @return [Integer] lines written
        def export(find, window, form, out, columns: [], limit: nil, zone: "UTC")
          Export.write(question(find, window), form, out, more: columns, limit: limit, zone: zone)
        end

        # @param kinds [Array<String>] all when there are none
        # @param machines [Array<String>, nil]
        # @param least [String, nil] name of a severity
        # @return [Array<Hash>] in order of time
        def logbook(window, kinds:, machines:, least:, limit:)
          story = Store::Story.new(
            from_us: window[0], to_us: window[1], kinds: kinds, machines: machines,
            least: least && Severity::NAMES.index(least)
          )
          story.entries(most: limit).map { |one| Present::Logbook.happening(one.happening, one.outcome) }
        end

        # @return [Array<Hash>]
        def restarts(window, machine:, limit:)
          Store::Restarts.new(from_us: window[0], to_us: window[1], machine: machine).found(most: limit)
            .map { |one| Present::Logbook.restart(one) }
        end

        # @return [Hash, nil] the first line that is found
        def first(find, window)
          question(find, window).page(limit: 1).events.first&.then { |event| Present.line(event) }
        end

        # @param line [Hash] as {#first} gives it
        # @return [Hash] "onset_us" and "candidates"
        def causes(line)
          event = Store::Events.find(line["id"].to_i)
          changes = Store::ChangesBefore.new(
            at_us: event.time_us, machine: event.machine, pattern: event.pattern, besides: event.id
          )
          {
            "onset_us" => changes.onset.at_us,
            "candidates" => changes.candidates.map { |one| Present::Logbook.candidate(one) }
          }
        end

        private

        def question(find, window) = Store::Question.new(find: find, from_us: window[0], to_us: window[1])

        def progress(survey) = survey.count { yield survey.done if block_given? }
      end
    end
  end
end
