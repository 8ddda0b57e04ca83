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
      CONSTANTS_KEPT = 1000
      TEMPLATES_LIMIT = 20_000
      # The name that stands for all of them then. A field that is called so itself is stored in the same way.
      LOOSE = "*"
      EMPTY = "".b.freeze
      NUL = "\0".b.freeze

      def initialize
        @kinds = {}
        @fresh = []
        @key = String.new(encoding: Encoding::UTF_8)
        @places = []
        @constants = {}.compare_by_identity
        @templates = {}
        @fresh_templates = []
      end

      # @param event [Event] what cannot be kept by its values is kept as it came
      # @param batch [Batch] gains the event
      def pack(event, batch)
        add(event, batch)
      rescue StandardError => error
        add(event.bare.tap { |bare| bare.stumbled("the packing of its values", error) }, batch)
      end

      # Adds one that nothing was read of, and of which nothing is to be read.
      # @param event [Event] see {Event#bare}
      # @param batch [Batch]
      def keep(event, batch) = add(event, batch, template: add_template(Patterns::Mask::OPEN.b))

      # @return [Array<Array>] definitions of the kinds that are new since the last call: number, then as {Kinds.intern}
      #   takes them
      def fresh_kinds = @fresh.tap { @fresh = [] }

      # @return [Array<Array(Integer, String)>] number and text of the templates that are new since the last call
      def fresh_templates = @fresh_templates.tap { @fresh_templates = [] }

      private

      def add(event, batch, template: template(event.message))
        raw = event.raw
        at = event.body_at
        body = at.zero? ? raw : raw.byteslice(at, raw.bytesize)
        fields = event.fields
        fields = loose(fields) if fields.size > FIELDS_LIMIT || @kinds.size > KINDS_LIMIT || fields.key?(LOOSE)
        key = @key.clear
        places = @places.clear
        extra = place_of_message(event.message, body, places)
        from = 0
        fields.each_pair do |name, value|
          if value.is_a?(String)
            key << name << "\0s"
          else
            key << name << "\0" << type(value)
            value = value.to_s
          end
          extra = place(value, body, from, places, extra)
          place = places[-2]
          from = place if place < body.bytesize
        end
        nul = body.include?(NUL) || extra&.include?(NUL)
        batch.add(
          time_us: event.time_us, severity: event.severity, kind: kind(event, fields, key, nul),
          template: template, line: event.line_number, offset: event.offset,
          head: at.zero? ? EMPTY : Head.shorten(raw, at, event.time_us), body: body, extra: extra,
          spans: Spans.pack(places), index_text: index_text(body, extra)
        )
      end

      # @return [Integer] number of the message's template
      def template(message)
        text = Patterns::Mask.template(message)
        @templates[text] || add_template(text)
      end

      # Where messages have no words in common, what they have in common is nothing.
      def add_template(text)
        text = Patterns::Mask::OPEN.b if @templates.size > TEMPLATES_LIMIT
        @templates[text] ||= (@templates.size + 1).tap { |number| @fresh_templates << [number, Text.display(text)] }
      end

      # The message is the end of most records.
      def place_of_message(message, body, places)
        return place(message, body, 0, places, nil) unless body.end_with?(message)

        places << body.bytesize - message.bytesize << message.bytesize
        nil
      end

      # Finds where a value stands in the body, looking first behind the one before it.
      # @param places [Array<Integer>] gains offset and size
      # @return [String, nil] what has to be kept beside the body so far
      def place(text, body, from, places, extra)
        text = text.b unless text.encoding == Encoding::BINARY || text.encoding == Encoding::US_ASCII # as numbers are
        at = body.index(text, from) || (from.positive? && body.index(text)) || nil
        if at.nil?
          extra = extra ? extra << "\n" : "".b
          at = body.bytesize + extra.bytesize
          extra << text
        end
        places << at << text.bytesize
        extra
      end

      def loose(fields)
        {
          LOOSE =>
            Oj.dump(fields.transform_values { |value| value.is_a?(String) ? Text.utf8(value) : value }, mode: :strict)
        }
      end

      def type(value)
        case value
        when String then "s"
        when Integer then "i"
        when Float then "f"
        else "b"
        end
      end

      # @param key [String] names and types of the fields; gains all else that the kind is made of. No name has a
      #   control character, so that nothing else has the same key. Text is hashed several times faster than a list of
      #   objects.
      # @return [Integer] number of the event's kind
      def kind(event, fields, key, nul)
        key << "\1" << event.machine.to_s << "\0" << event.service.to_s << "\0" << event.reader.name << "\0" <<
          event.ending
        event.inferred.each { |what| key << what.name }
        key << "\1" << event.note if event.note
        key << "\2" unless event.stamped
        key << "\4" if nul
        constants = event.constants
        key << (@constants[constants] ||= remember(constants)) unless constants.equal?(Reading::Context::NO_FIELDS)
        @kinds[key] || (@kinds[key.dup] = add_kind(event, fields, nul))
      end

      # Readers hand the same few tables out again and again.
      def remember(constants)
        @constants.clear if @constants.size > CONSTANTS_KEPT
        "\3#{constants}"
      end

      def add_kind(event, fields, nul)
        number = @kinds.size + 1
        layout = fields.map { |name, value| [name, type(value)] }
        traits = { "stamped" => event.stamped, "inferred" => event.inferred.map(&:to_s),
                   "ending" => event.ending, "note" => event.note, "constants" => event.constants, "nul" => nul || nil }
        @fresh << [number, event.machine, event.service, event.reader, layout, utf8(traits.compact)]
        number
      end

      def utf8(traits) = traits.transform_values { |value| value.is_a?(String) ? Text.utf8(value) : value }

      def index_text(body, extra)
        return if extra.nil? && body.ascii_only?

        IndexText.of(body, extra).b
      end
    end
  end
end
