# frozen_string_literal: true

require "oj"
require "strscan"

module Northdrift
  module Reading
    # JSON (RFC 8259) as programs write it: what cannot be read is none, and what was read can be written again.
    module Json
      # Deeper than this nothing is that a program wrote; a parser may refuse it (section 9), and ours would take long.
      DEPTH = 500
      STRING = /"(?:[^"\\]|\\.)*+"/mn
      OTHER = /[^"{}\[\]]+/n
      # Where a number may be too large for a computer (section 6): such leave as they came, as text.
      HUGE = /\d{309}|[eE]\+?\d{3}/n
      STRING_OR_NUMBER = /#{STRING}|-?\d[\d.]*(?:[eE][+-]?\d+)?/n
      STEPS = { "{" => 1, "[" => 1, "}" => -1, "]" => -1 }.freeze

      module_function

      # @param text [String] bytes
      # @return [Object, nil] nil when it is none
      def parse(text)
        return if text.count("{[") > DEPTH && deep?(text.b)

        text = kept(text.b) if HUGE.match?(text.b)
        Oj.load(text.dup.force_encoding(Encoding::UTF_8), mode: :strict, bigdecimal_load: :float)
      rescue Oj::ParseError, EncodingError, ArgumentError, RangeError
        nil
      end

      def deep?(text)
        scanner = StringScanner.new(text)
        depth = 0
        until scanner.eos? || depth > DEPTH
          next if scanner.skip(OTHER) || scanner.skip(STRING)

          depth += STEPS.fetch(scanner.getch, 0)
        end
        depth > DEPTH
      end
      private_class_method :deep?

      def kept(text)
        text.gsub(STRING_OR_NUMBER) do |part|
          part.start_with?('"') || part.match?(/\A-?\d+\z/n) || part.to_f.finite? ? part : "\"#{part}\""
        end
      end
      private_class_method :kept

      # @param object [Object] that was parsed
      # @return [String] JSON, bytes
      def dump(object) = Oj.dump(object, mode: :strict).b
    end
  end
end
