# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # What the logbook read out of lines, kept beside them; and what it made out of there being more or fewer of them
    # than usual.
    module Happenings
      COLUMNS = "event_id, rule, kind, severity, machine, service, says, fields, person, operation, phase"
      ADD = "INSERT OR REPLACE INTO happenings (#{COLUMNS}) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)".freeze
      # Stands in the place of the severity in the id of a happening that no line tells; no event has it.
      OF_NO_LINE = EventId::SEVERITY_MASK

      # @!attribute id [Integer] of the line that tells it
      # @!attribute fields [Hash{String=>String}]
      Kept =
        Struct.new(:id, :rule, :kind, :severity, :machine, :service, :says, :fields, :person, :operation, :phase) do
          # @return [Integer] microseconds UTC, to the millisecond
          def time_us = EventId.micros(id)

          # @return [Hash{String=>Object}] what an alert rule may tell it apart by
          def all_fields
            fields.merge("host.name" => machine, "service.name" => service, "user.name" => person).compact
          end

          # @return [Boolean] whether a line tells it
          def of_line? = EventId.severity(id) != OF_NO_LINE
        end

      module_function

      # Called within the transaction that writes the lines.
      # @param happenings [Hash{Integer=>Logbook::Happening}] by index of the line
      # @param ids [Array<Integer>] of the lines
      def add(happenings, ids)
        happenings.each { |index, one| put(ids[index], one) }
      end

      # Within a write transaction.
      # @param id [Integer] of the line, or of {free_id}
      # @param one [Logbook::Happening]
      def put(id, one)
        Database.rows(
          ADD,
          [
            id, one.rule, one.kind, one.severity, one.machine, one.service, one.says,
            Oj.dump(one.fields, mode: :strict), one.person, one.operation, one.phase
          ]
        )
      end

      # @param time_us [Integer]
      # @return [Integer] an id for a happening of that moment that no line tells
      def free_id(time_us)
        base = EventId.pack(time_us / EventId::MILLISECOND, 0, OF_NO_LINE)
        taken =
          Database.rows(
            "SELECT event_id FROM happenings WHERE event_id BETWEEN ? AND ?",
            [base, base | ((1 << EventId::TIME_BITS) - 1)]
          ).flatten
        (0...EventId::SEQUENCES)
          .map { |sequence| base | (sequence << EventId::SEVERITY_BITS) }
          .find { |id| !taken.include?(id) } || base
      end

      # Within a write transaction.
      def forget(ids_json)
        Database.rows("DELETE FROM happenings WHERE event_id IN (SELECT value FROM json_each(?))", [ids_json])
      end

      # @param ids [Array<Integer>] of lines
      # @return [Array<Kept>] those that they tell
      def of_lines(ids) = rows("event_id IN (#{marks(ids)})", ids)

      # @param id [Integer]
      # @return [Kept, nil]
      def find(id) = rows("event_id = ?", [id]).first

      # @return [Hash{String=>Integer}] how many each rule has read
      def by_rule = Database.rows("SELECT rule, count(*) FROM happenings GROUP BY rule").to_h

      # @param rules [Array<String>]
      # @param kinds [Array<String>]
      # @return [Array<Kept>] those of any of these rules or kinds, in order of time
      def of(rules: [], kinds: [], from_us: nil, to_us: nil, machines: nil)
        any = { "rule" => rules, "kind" => kinds }.reject { |_, values| values.empty? }
        parts = [
          ["(#{any.map { |column, values| "#{column} IN (#{marks(values)})" }.join(' OR ')})", any.values.flatten]
        ]
        parts << ["event_id >= ?", [EventId.first(from_us)]] if from_us
        parts << ["event_id < ?", [EventId.first(to_us)]] if to_us
        parts << ["machine IN (#{marks(machines)})", machines] if machines
        rows(parts.map(&:first).join(" AND "), parts.flat_map(&:last))
      end

      # @param where [String] SQL
      # @param binds [Array]
      # @return [Array<Kept>] in order of time
      def rows(where, binds, order: "ASC", limit: -1)
        Database
          .rows("SELECT #{COLUMNS} FROM happenings WHERE #{where} ORDER BY event_id #{order} LIMIT ?", [*binds, limit])
          .map { |row| kept(row) }
      end

      # @return [String] so many places for values
      def marks(values) = (["?"] * values.size).join(",")

      def kept(row)
        one = Kept.new(*row)
        one.fields = Oj.load(one.fields, mode: :strict)
        one
      end
      private_class_method :kept
    end
  end
end
