# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Reads the logbook anew out of lines that are there, when its rules have changed. Where it is known which rules
    # those are, only lines that they concern are read.
    module Past
      # Which rules all lines were read with that are there: their version, and what they are.
      VERSION = "logbook"
      RULES = "logbook-rules"
      # How far a reading has come: version of the rules, and id of the last line.
      DONE = "logbook-read"
      # When lines are looked at once more that were read while the rules changed, and by which rules they may have
      # been.
      AGAIN = "logbook-again"
      # By then such lines are in the database.
      AGAIN_US = 30_000_000
      BATCH = 2000
      # Conditions that make one question; where more rules are new, all lines are read.
      MOST_FINDS = 20

      module_function

      # To be said before the first line is read: with these rules there is no past to read.
      # @param catalogue [Logbook::Catalogue]
      def start_with(catalogue)
        return if Setting.get(VERSION) || Database.value("SELECT 1 FROM events LIMIT 1")

        settle(catalogue)
      end

      # @param catalogue [Logbook::Catalogue]
      # @return [Boolean] whether lines are still as other rules read them
      def behind?(catalogue) = Setting.get(VERSION) != catalogue.version

      # @param catalogue [Logbook::Catalogue]
      # @param now_us [Integer] microseconds UTC
      # @return [Boolean] whether there is something to read
      def due?(catalogue, now_us) = behind?(catalogue) || (again && again["due_us"] <= now_us)

      # @param catalogue [Logbook::Catalogue]
      # @param now_us [Integer] microseconds UTC
      # @param stop [#call] returns true when it is time to end; it goes on there the next time
      # @return [Boolean] whether there was something to do
      def read(catalogue, now_us, stop: -> { false })
        return false unless due?(catalogue, now_us)

        before = [*again&.fetch("before"), *([rules_before] if behind?(catalogue))]
        alterations = before.map { |rules| rules && Logbook::Alteration.between(rules, catalogue.definition) }
        known = alterations.all?
        return true unless known ? some(alterations, catalogue, stop) : all(catalogue, stop)

        Setting.set(
          AGAIN,
          known && behind?(catalogue) ? Oj.dump({ "due_us" => now_us + AGAIN_US, "before" => before },
                                                mode: :strict) : ""
        )
        settle(catalogue)
        true
      end

      # @return [Float, nil] share of the time of all lines that was read, while it goes on
      def progress(catalogue)
        return unless behind?(catalogue)

        from_us, to_us = Span.all
        after = begun(catalogue)
        after ? ((EventId.micros(after) - from_us) / [to_us - from_us, 1].max.to_f).clamp(0.0, 1.0) : 0.0
      end

      def settle(catalogue)
        {
          VERSION => catalogue.version,
          RULES => Oj.dump(catalogue.definition.merge("version" => catalogue.version), mode: :strict), DONE => ""
        }.each { |name, value| Setting.set(name, value) }
      end
      private_class_method :settle

      def again = load(AGAIN)
      private_class_method :again

      # What the version does not speak of is not what lines were read with: a program of before noted the version
      # alone.
      def rules_before = load(RULES)&.then { |rules| rules if rules["version"] == Setting.get(VERSION) }
      private_class_method :rules_before

      def load(name) = Setting.get(name).to_s.then { |text| text.empty? ? nil : Oj.load(text, mode: :strict) }
      private_class_method :load

      def begun(catalogue)
        version, id = Setting.get(DONE).to_s.split
        version == catalogue.version ? id.to_i : nil
      end
      private_class_method :begun

      # Lines that rules told which are no more what they were come first: what they say is wrong.
      # @return [Boolean] whether it came to its end
      def some(alterations, catalogue, stop)
        told(alterations.flat_map(&:rules)).each_slice(BATCH) do |ids|
          return false if stop.call

          anew(StoredEvent.all(ids), catalogue)
        end
        finds = alterations.flat_map(&:finds).uniq
        return all(catalogue, stop) if finds.size > MOST_FINDS

        finds.empty? || all(catalogue, stop, find: finds.map { |find| "(#{find})" }.join(" or "))
      end
      private_class_method :some

      def told(rules)
        Database.rows(
          "SELECT event_id FROM happenings WHERE rule IN (SELECT value FROM json_each(?)) ORDER BY 1",
          [Oj.dump(rules, mode: :strict)]
        ).flatten
      end
      private_class_method :told

      def all(catalogue, stop, find: "")
        question = Question.new(find: find, checked: false)
        after = begun(catalogue)
        until stop.call
          page = question.page(after: after, limit: BATCH)
          anew(page.events, catalogue)
          return true unless page.more_after

          after = page.events.map(&:id).max
          Setting.set(DONE, "#{catalogue.version} #{after}")
        end
        false
      end
      private_class_method :all

      def anew(events, catalogue)
        said = Fleet.current.said
        sources = Source.where(id: events.map(&:source_id).uniq).index_by(&:id)
        found =
          events.filter_map do |stored|
            event = stored.event
            source = sources[stored.source_id]
            # Nothing happened at a time that is the file's.
            next if source && !event.stamped && event.time_us == source.reference_us

            (one = catalogue.read(event, source&.name.to_s, said)) && [stored.id, one]
          end
        Database.step do
          Happenings.forget(Oj.dump(events.map(&:id), mode: :strict))
          found.each { |id, one| Happenings.put(id, one) }
        end
      end
      private_class_method :anew
    end
  end
end
