# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # What the logbook read out of lines, kept beside them.
    module Happenings
      COLUMNS = "event_id, rule, kind, severity, machine, service, says, fields"
      ADD = "INSERT OR REPLACE INTO happenings (#{COLUMNS}) VALUES (?, ?, ?, ?, ?, ?, ?, ?)".freeze
      # Which rules all lines were read with that are there.
      VERSION = "logbook"
      BATCH = 2000

      # @!attribute id [Integer] of the line that tells it
      Kept = Struct.new(:id, :rule, :kind, :severity, :machine, :service, :says, :fields) do
        # @return [Integer] microseconds UTC, to the millisecond
        def time_us = EventId.micros(id)
      end

      # @!attribute found [Array<Kept>] in order of time
      # @!attribute total [Integer]
      # @!attribute days [Hash{Integer=>Hash{Integer=>Integer}}] happenings by day since 1970 and severity
      # @!attribute kinds [Hash{String=>Integer}] how many of each kind there are, whatever kinds are asked for
      Page = Struct.new(:found, :total, :days, :kinds)

      DAY = "(event_id >> #{EventId::TIME_BITS}) / #{86_400_000_000 / EventId::MILLISECOND}".freeze

      module_function

      # Called within the transaction that writes the lines.
      # @param happenings [Hash{Integer=>Logbook::Happening}] by index of the line
      # @param ids [Array<Integer>] of the lines
      def add(happenings, ids)
        happenings.each { |index, one| put(ids[index], one) }
      end

      # Within a write transaction.
      def forget(ids_json) = Database.rows("DELETE FROM happenings WHERE event_id IN (SELECT value FROM json_each(?))", [ids_json])

      # @param kinds [Array<String>] all when there are none
      # @param text [String] that the words hold, whatever its case
      # @param least [Integer, nil] severity; what is less bad is left out
      # @param most [Integer] the latest so many
      # @return [Page]
      def page(from_us: nil, to_us: nil, kinds: [], machine: nil, text: "", least: nil, most: 500)
        where, binds = condition(from_us, to_us, machine, text, least)
        counts = Database.rows("SELECT kind, count(*) FROM happenings WHERE #{where} GROUP BY kind", binds).to_h
        unless kinds.empty?
          where += " AND kind IN (#{(['?'] * kinds.size).join(',')})"
          binds += kinds
        end
        rows = Database.rows("SELECT #{COLUMNS} FROM happenings WHERE #{where} ORDER BY event_id DESC LIMIT ?", [*binds, most]).reverse
        days = Hash.new { |all, day| all[day] = {} }
        Database.rows("SELECT #{DAY} AS day, severity, count(*) FROM happenings WHERE #{where} GROUP BY 1, 2", binds).each { |day, severity, n| days[day][severity] = n }
        Page.new(rows.map { |row| Kept.new(*row) }, days.values.sum { |by| by.values.sum }, days, counts)
      end

      # @param rules [Array<String>]
      # @return [Array<Kept>] all of these rules, in order of time; fields as a hash
      def of(rules)
        rows = Database.rows("SELECT #{COLUMNS} FROM happenings WHERE rule IN (#{(['?'] * rules.size).join(',')}) ORDER BY event_id", rules)
        rows.map { |row| Kept.new(*row[0..-2], Oj.load(row.last, mode: :strict)) }
      end

      # @param machine [String]
      # @param before_us [Integer]
      # @return [Integer, nil] when a machine was last heard of before, within a day
      def last_heard(machine, before_us)
        quoted = machine.gsub(/["\\]/) { |sign| "\\#{sign}" }
        event = Question.new(find: %(host.name = "#{quoted}"), from_us: before_us - Question::DAY_US, to_us: before_us).page(last: true, limit: 1).events.first
        event&.time_us
      end

      # To be said before the first line is read: with these rules there is no past to read.
      # @param catalogue [Logbook::Catalogue]
      def start_with(catalogue)
        return if Setting.get(VERSION) || Database.value("SELECT 1 FROM events LIMIT 1")

        Setting.set(VERSION, catalogue.version)
      end

      # Reads all lines that are there again, where rules have changed since they were read.
      # @param catalogue [Logbook::Catalogue]
      # @param stop [#call] returns true when it is time to end
      # @return [Boolean] whether that was so
      def read_past(catalogue, stop: -> { false })
        return false if Setting.get(VERSION) == catalogue.version

        sources = Source.pluck(:id, :name).to_h
        after = nil
        question = Question.new
        until stop.call
          page = question.page(after: after, limit: BATCH)
          again(page.events, sources, catalogue)
          return Setting.set(VERSION, catalogue.version) && true unless page.more_after

          after = page.events.map(&:id).max
        end
        true
      end

      def again(events, sources, catalogue)
        found = events.filter_map { |event| (one = catalogue.read(event.event, sources.fetch(event.source_id, ""))) && [event.id, one] }
        ActiveRecord::Base.transaction do
          forget(Oj.dump(events.map(&:id), mode: :strict))
          found.each { |id, one| put(id, one) }
        end
      end
      private_class_method :again

      def put(id, one)
        Database.rows(ADD, [id, one.rule, one.kind, one.severity, one.machine, one.service, one.says, Oj.dump(one.fields, mode: :strict)])
      end
      private_class_method :put

      def condition(from_us, to_us, machine, text, least)
        parts = { "event_id >= ?" => from_us && EventId.first(from_us), "event_id < ?" => to_us && EventId.first(to_us), "machine = ?" => machine, "severity <= ?" => least }.compact
        unless text.empty?
          like = "%#{text.gsub(/[\\%_]/) { |sign| "\\#{sign}" }}%"
          return [[*parts.keys, "(says LIKE ? ESCAPE '\\' OR coalesce(machine, '') LIKE ? ESCAPE '\\')"].join(" AND "), [*parts.values, like, like]]
        end
        parts.empty? ? ["1", []] : [parts.keys.join(" AND "), parts.values]
      end
      private_class_method :condition
    end
  end
end
