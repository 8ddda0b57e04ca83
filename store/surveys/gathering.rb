# frozen_string_literal: true

module Northdrift
  module Store
    # Gathers what a {Measure::Clause} measures, by group and step of time.
    class Gathering
      # Groups of a piece that are told apart.
      MOST_GROUPS = 20_000
      OTHER = "\0other"
      TEXT = "events.body, events.extra, events.spans"
      NO_TEXT = "NULL, NULL, NULL"

      # How a field that does not stand in the text is come by.
      OUTSIDE = {
        "severity" => ->(row, _) { Severity.name(EventId.severity(row[0])) },
        "pattern" => ->(row, _) { "P#{KnownPatterns.current.of(row[2])}" },
        "source" => ->(row, sources) { sources[row[3]] }
      }.freeze

      # @param access [Access] the rows
      # @param kinds [Kinds]
      # @param clause [Measure::Clause]
      def initialize(access, kinds, clause)
        @access = access
        @kinds = kinds
        @clause = clause
        @sources = Hash.new { |names, id| names[id] = Source.where(id: id).pick(:name) }
        @in_text = Hash.new { |known, field| known[field] = in_text?(field) }
      end

      # @return [Hash] "lines", "measured" (lines that have a value), "unit", and "groups": gatherings by step and
      #   values of the fields
      def count(start_us, step_us)
        way = @clause.way
        groups = {}
        lines = measured = 0
        unit = nil
        Scan.each(
          @access,
          "events.id, events.kind_id, events.template_id, events.source_id, " \
          "#{@clause.fields.any? { |field| @in_text[field] } ? TEXT : NO_TEXT}"
        ) do |row|
          lines += 1
          value = way.field ? value(row, @clause.field) : nil
          if value && way.numeric
            unit ||= Measure::ValueType.unit_of(@clause.field, value)
            value = Measure::ValueType.number(@clause.field, value)
          end
          next if way.field && value.nil?

          measured += 1
          by = @clause.by.map { |field| value(row, field) }
          key = [step_us ? (EventId.micros(row[0]) - start_us) / step_us : 0, *by]
          key = [key[0], *Array.new(by.size, OTHER)] if groups.size >= MOST_GROUPS && !groups.key?(key)
          groups[key] = way.add.call(groups.fetch(key) { way.start.call }, value)
        end
        { "lines" => lines, "measured" => measured, "unit" => unit, "groups" => groups }
      end

      private

      def in_text?(field)
        !OUTSIDE.key?(field) &&
          !(@kinds.none? { |kind| kind.index(field) || kind.index(Packer::LOOSE) } && field != "message")
      end

      # @return [String, nil]
      def value(row, field)
        outside = OUTSIDE[field]
        return outside.call(row, @sources) if outside

        kind = @kinds[row[1]]
        return Spans.message(*row[4, 3]) if field == "message"

        index = kind.index(field)
        return Spans.value(index + 1, *row[4, 3]) if index
        return kind.constants[field]&.then { |value| Array(value).join(" ") } unless kind.index(Packer::LOOSE)

        Spans.field(kind, field, *row[4, 3])&.to_s
      end
    end
  end
end
