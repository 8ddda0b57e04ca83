# frozen_string_literal: true

require "oj"

module Northdrift
  module Reading
    # JSON (RFC 8259) as programs write it: what cannot be read is none, and what was read can be written again.
    module Json
      module_function

      # @param text [String] bytes
      # @return [Object, nil] nil when it is none
      def parse(text)
        Oj.load(text.dup.force_encoding(Encoding::UTF_8), mode: :strict, bigdecimal_load: :float)
      rescue Oj::ParseError, EncodingError, ArgumentError, RangeError
        nil
      end

      # @param object [Object] that was parsed
      # @return [String] JSON, bytes
      def dump(object)
        Oj.dump(object, mode: :strict).b
      rescue TypeError
        Oj.dump(within(object), mode: :strict).b
      end

      # Numbers too large for any computer (section 6) come out of parsing as infinite, which JSON has no word for.
      def within(object)
        case object
        when Hash then object.transform_values { |value| within(value) }
        when Array then object.map { |value| within(value) }
        when Float then object.finite? ? object : object.to_s
        else object
        end
      end
      private_class_method :within
    end
  end
end
