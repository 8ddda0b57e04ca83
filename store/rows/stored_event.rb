# frozen_string_literal: true

module Northdrift
  module Store
    # An event as it was kept: a row and its kind, taken apart when asked.
    class StoredEvent
      COLUMNS =
        "events.id, events.kind_id, events.template_id, events.source_id, events.line, events.offset, events.shift, " \
        "events.head, events.body, events.extra, events.spans"

      # @return [Integer]
      attr_reader :id, :template_id, :source_id, :line, :offset
      # @return [Kind]
      attr_reader :kind

      # @param ids [Array<Integer>]
      # @return [Array<StoredEvent>] in their order; those that are there no more are missing
      def self.all(ids)
        binds = Array.new(ids.size, "?").join(",")
        found =
          Database
            .rows("SELECT #{COLUMNS} FROM events WHERE events.id IN (#{binds})", ids)
            .to_h { |row| [row.first, new(row, Kinds.current)] }
        ids.filter_map { |id| found[id] }
      end

      # @param row [Array] {COLUMNS}
      # @param kinds [Kinds]
      def initialize(row, kinds)
        @id, kind_id, @template_id, @source_id, @line, @offset, @shift, @head, @body, @extra, @spans = row
        @kind = kinds[kind_id]
      end

      # @return [Integer] microseconds UTC, exactly as the record has it
      def time_us = EventId.micros(@id) + @shift

      # @return [String] ISO 8601, UTC, with microseconds
      def time = Time.at(0, time_us, :microsecond, in: "UTC").strftime("%Y-%m-%dT%H:%M:%S.%6NZ")

      def severity = EventId.severity(@id)
      def machine = @kind.machine
      def service = @kind.service

      # @return [String] the number that its pattern goes by in a find text
      def pattern = "P#{KnownPatterns.current.of(@template_id)}"

      # @return [String] its fixed words and open places
      def pattern_text = KnownPatterns.current.then { |known| known.text(known.of(@template_id)) }

      # @return [String] UTF-8
      def message = Spans.message(@body, @extra, @spans)

      # @return [String] exact bytes of the record
      def raw = Head.restore(@head.b, time_us) + @body.b

      # @return [Event] as it was when it was read, but for the rule that told its severity
      def event
        traits = @kind.traits
        message = Spans.message_bytes(@body, @extra, @spans)
        Event.new(
          time_us, severity, nil, machine, service, message, Spans.fields(@kind, @body, @extra, @spans),
          traits["constants"] || {}, raw, traits["ending"] || "\n", raw.bytesize - @body.bytesize, @kind.reader,
          traits["stamped"], (traits["inferred"] || []).map(&:to_sym), @line, @offset, traits["note"]
        )
      end

      # @return [String] bytes, see {Spans}
      def spans = @spans.b

      # @param text [String] a part of the message
      # @return [Array(Integer, Integer), nil] where it stands, as {Spans} have it; nil when its bytes are no UTF-8
      def place_of(text)
        at = @body.b.index(text.b)
        return [at, text.bytesize] if at

        beside = @extra.to_s.b.index(text.b) and [@body.bytesize + beside, text.bytesize]
      end

      # @return [Hash{String=>Object}] typed values by name, and those of its kind
      def fields = @fields ||= fleet.merge(own_fields)

      # @return [Hash{String=>Object}] the same without what people say of its machine
      def own_fields = Spans.fields(@kind, @body, @extra, @spans).merge(@kind.traits["constants"] || {})

      # @return [Hash{String=>String}] what people say of its machine; several values stand side by side
      def fleet = (@kind.fleet || {}).transform_values { |value| Array(value).join(" ") }

      # @return [Find::Matcher::Subject] for the reference matcher
      def subject(source_name = nil)
        Find::Matcher::Subject.new(
          severity, IndexText.of(@body, @extra), machine, service, message, -> { Text.utf8(raw) },
          -> { fields.merge(@kind.constants).merge("source" => source_name, "pattern" => pattern) }
        )
      end
    end
  end
end
