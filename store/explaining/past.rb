# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Reads the logbook anew out of lines that are there, when its rules have changed.
    module Past
      # Which rules all lines were read with that are there.
      VERSION = "logbook"
      # How far a reading has come: version of the rules, and id of the last line.
      DONE = "logbook-read"
      BATCH = 2000

      module_function

      # To be said before the first line is read: with these rules there is no past to read.
      # @param catalogue [Logbook::Catalogue]
      def start_with(catalogue)
        return if Setting.get(VERSION) || Database.value("SELECT 1 FROM events LIMIT 1")

        Setting.set(VERSION, catalogue.version)
      end

      # @param catalogue [Logbook::Catalogue]
      # @return [Boolean] whether lines are still as other rules read them
      def behind?(catalogue) = Setting.get(VERSION) != catalogue.version

      # @param stop [#call] returns true when it is time to end; it goes on there the next time
      # @return [Boolean] whether there was something to do
      def read(catalogue, stop: -> { false })
        return false unless behind?(catalogue)

        sources = Source.pluck(:id, :name).to_h
        question = Question.new
        after = begun(catalogue)
        until stop.call
          page = question.page(after: after, limit: BATCH)
          again(page.events, sources, catalogue)
          return Setting.set(VERSION, catalogue.version) && true unless page.more_after

          after = page.events.map(&:id).max
          Setting.set(DONE, "#{catalogue.version} #{after}")
        end
        true
      end

      # @return [Float, nil] share of the time of all lines that was read, while it goes on
      def progress(catalogue)
        return unless behind?(catalogue)

        from_us, to_us = Span.all
        after = begun(catalogue)
        after ? ((EventId.micros(after) - from_us) / [to_us - from_us, 1].max.to_f).clamp(0.0, 1.0) : 0.0
      end

      def begun(catalogue)
        version, id = Setting.get(DONE).to_s.split
        version == catalogue.version ? id.to_i : nil
      end
      private_class_method :begun

      def again(events, sources, catalogue)
        said = Fleet.current.said
        found = events.filter_map { |event| (one = catalogue.read(event.event, sources.fetch(event.source_id, ""), said)) && [event.id, one] }
        ActiveRecord::Base.transaction do
          Happenings.forget(Oj.dump(events.map(&:id), mode: :strict))
          found.each { |id, one| Happenings.put(id, one) }
        end
      end
      private_class_method :again
    end
  end
end
