# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Where message and fields stand in a stored row. Offsets count from the start of the body and go on in `extra`. The
    # numbers are written as UTF-8 writes characters (RFC 3629, section 3): small ones in a byte, and Ruby does it
    # quickly.
    module Spans
      NUMBERS = "U*"
      FIRST = "U2"

      module_function

      # @param places [Array<Integer>] offset and size of the message and of each field
      # @return [String] bytes
      def pack(places) = places.pack(NUMBERS).force_encoding(Encoding::BINARY)

      # @return [String] UTF-8
      def message(body, extra, spans)
        at, size = spans.unpack(FIRST)
        cut(at, size, body, extra)
      end

      # @return [String] the exact bytes of the message
      def message_bytes(body, extra, spans)
        at, size = spans.unpack(FIRST)
        bytes(at, size, body, extra)
      end

      # @param index [Integer] 0 is the message, the fields follow in the order of the kind's layout
      # @return [String] UTF-8, as {Text.utf8} has it
      def value(index, body, extra, spans)
        places = spans.unpack(NUMBERS)
        cut(places[index * 2], places[(index * 2) + 1], body, extra)
      end

      # @param kind [Kind]
      # @param name [String]
      # @return [Object, nil] typed value of a field
      def field(kind, name, body, extra, spans)
        index = kind.index(name) unless name == Packer::LOOSE
        return typed(kind.layout[index][1], value(index + 1, body, extra, spans)) if index
        return kind.constants[name] unless kind.index(Packer::LOOSE)

        loose(kind, body, extra, spans)[name] || kind.constants[name]
      end

      # @return [Hash{String=>Object}] all fields of its layout, typed
      def fields(kind, body, extra, spans)
        return loose(kind, body, extra, spans) if kind.index(Packer::LOOSE)

        places = spans.unpack(NUMBERS)
        kind.layout.each_with_index.to_h do |(name, type), index|
          [name, typed(type, cut(places[(index * 2) + 2], places[(index * 2) + 3], body, extra))]
        end
      end

      def cut(at, size, body, extra) = Text.utf8(bytes(at, size, body, extra))
      private_class_method :cut

      def bytes(at, size, body, extra)
        at >= body.bytesize && size.positive? ? extra.byteslice(at - body.bytesize, size) : body.byteslice(at, size)
      end
      private_class_method :bytes

      def typed(type, text)
        case type
        when "i" then text.to_i
        when "f" then text.to_f
        when "b" then text == "true"
        else text
        end
      end
      private_class_method :typed

      def loose(kind, body, extra, spans)
        text = value(kind.index(Packer::LOOSE) + 1, body, extra, spans)
        Oj.load(text, mode: :strict).then { |fields| fields.is_a?(Hash) ? fields : { Packer::LOOSE => text } }
      rescue Oj::ParseError
        { Packer::LOOSE => text } # a field of that name, as earlier versions stored it
      end
      private_class_method :loose
    end
  end
end
