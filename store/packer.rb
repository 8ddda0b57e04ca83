# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Turns events into rows. Values are not stored a second time: a row keeps, for the message and each field, where
    # in the text it stands; only what does not stand there as it is (unescaped, composed) goes into `extra`.
    #
    # Needs no database, so that it can work in a process of its own.
    class Packer
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
      # @param batch [Batch] gains the event
      def pack(event, batch)
        raw = event.raw
        at = event.body_at
        body = at.zero? ? raw : raw.byteslice(at, raw.bytesize)
        fields = event.fields
        fields = loose(fields) if fields.size > FIELDS_LIMIT || @kinds.size > KINDS_LIMIT
        spans = "".b
        extra = place(event.message, body, 0, spans, nil)
        from = 0
        types = "".b
        fields.each_value do |value|
          types << (value.is_a?(String) ? "s" : type(value))
          extra = place(value.is_a?(String) ? value : value.to_s, body, from, spans, extra)
          from = @place if @place < body.bytesize
        end
        batch.add(event.time_us, event.severity, kind(event, fields, types), event.line_number, event.offset,
                  at.zero? ? EMPTY : Head.shorten(raw.byteslice(0, at), event.time_us), body, extra, spans, index_text(body, extra))
      end

      # @return [Array<Array>] definitions of the kinds that are new since the last call: number, then as {Kinds.intern} takes them
      def fresh_kinds = @fresh.tap { @fresh = [] }

      private

      # Finds where a value stands in the body, looking first behind the one before it.
      # @return [String, nil] what has to be kept beside the body so far
      def place(text, body, from, spans, extra)
        text = text.b unless text.encoding == Encoding::BINARY
        at = body.index(text, from) || (from.positive? && body.index(text)) || nil
        if at.nil?
          extra = extra ? extra << "\n" : "".b
          at = body.bytesize + extra.bytesize
          extra << text
        end
        @place = at
        ber(spans, at)
        ber(spans, text.bytesize)
        extra
      end

      # Appends a number as BER-compressed integer (as `pack("w")`, which takes three times as long for small ones).
      def ber(bytes, number)
        if number < 0x80 then bytes << number
        elsif number < 0x4000 then bytes << (0x80 | (number >> 7)) << (number & 0x7F)
        else bytes << [number].pack("w")
        end
      end

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
      def kind(event, fields, types)
        key = [event.machine, event.service, event.reader, event.stamped, event.inferred, event.ending, event.note,
               event.constants, types, *fields.keys]
        @kinds[key] ||= add_kind(event, fields)
      end

      def add_kind(event, fields)
        number = @kinds.size + 1
        layout = fields.map { |name, value| [name, type(value)] }
        traits = { "stamped" => event.stamped, "inferred" => event.inferred.map(&:to_s),
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
