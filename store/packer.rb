# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Turns events into rows. Values are not stored a second time: a row keeps, for the message and each field, where
    # in the text it stands; only what does not stand there as it is (unescaped, composed) goes into `extra`.
    #
    # Needs no database, so that it can work in a process of its own.
    class Packer
      # One event, ready for the {Writer}. Texts are byte strings.
      # @!attribute kind [Integer] number of the kind among those of this packer
      # @!attribute index_text [String, nil] what to index instead of body and extra, where these will not do
      Row = Struct.new(:time_us, :severity, :kind, :line, :offset, :head, :body, :extra, :spans, :index_text)

      # Field names are data. When a program invents them without end, they are stored with the values.
      KINDS_LIMIT = 20_000
      FIELDS_LIMIT = 300
      LOOSE = "*"
      EMPTY = "".b.freeze

      def initialize
        @kinds = {}
        @fresh = []
      end

      # @param event [Event]
      # @return [Row]
      def pack(event)
        at = event.body_at
        raw = event.raw
        head = at.zero? ? EMPTY : raw.byteslice(0, at)
        body = at.zero? ? raw : raw.byteslice(at, raw.bytesize)
        fields = event.fields
        fields = loose(fields) if fields.size > FIELDS_LIMIT || @kinds.size > KINDS_LIMIT
        extra = nil
        spans = []
        from = 0
        [event.message, *fields.each_value].each do |value|
          text = value.is_a?(String) ? value : value.to_s
          text = text.b unless text.encoding == Encoding::BINARY
          size = text.bytesize
          place = body.index(text, from) || body.index(text)
          if place
            from = place + size unless spans.empty?
          else
            extra ||= "".b
            extra << "\n" unless extra.empty?
            place = body.bytesize + extra.bytesize
            extra << text
          end
          spans << place << size
        end
        Row.new(event.time_us, event.severity, kind(event, fields), event.line_number, event.offset, head, body, extra, spans.pack("w*"),
                index_text(body, extra))
      end

      # @return [Array<Array>] definitions of the kinds that are new since the last call: number, then as {Kinds.intern} takes them
      def fresh_kinds = @fresh.tap { @fresh = [] }

      private

      def loose(fields)
        { LOOSE => Oj.dump(fields.transform_values { |value| value.is_a?(String) ? Text.utf8(value) : value }, mode: :strict) }
      end

      def type(value)
        case value
        when String then "s"
        when Integer then "i"
        when Float then "f"
        else "b"
        end
      end

      # @return [Integer] number of the event's kind
      def kind(event, fields)
        types = "".b
        fields.each_value { |value| types << (value.is_a?(String) ? "s" : type(value)) }
        key = [event.machine, event.service, event.reader, event.severity_rule, event.stamped, event.inferred, event.ending, event.note,
               event.constants, types, *fields.keys]
        @kinds[key] ||= add_kind(event, fields)
      end

      def add_kind(event, fields)
        number = @kinds.size + 1
        layout = fields.map { |name, value| [name, type(value)] }
        traits = { "rule" => event.severity_rule, "stamped" => event.stamped, "inferred" => event.inferred.map(&:to_s),
                   "ending" => event.ending, "note" => event.note, "constants" => event.constants }
        @fresh << [number, event.machine, event.service, event.reader, layout, utf8(traits.compact)]
        number
      end

      def utf8(traits) = traits.transform_values { |value| value.is_a?(String) ? Text.utf8(value) : value }

      def index_text(body, extra)
        return if extra.nil? && body.ascii_only?

        text = IndexText.clean(body)
        text = "#{text}#{IndexText::GAP}#{IndexText.clean(extra)}" if extra
        text.b
      end
    end
  end
end
