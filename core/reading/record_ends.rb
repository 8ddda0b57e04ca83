# frozen_string_literal: true

module Northdrift
  module Reading
    # Finds where the log records of an OTLP request in JSON end, without taking it apart: strings are skipped, braces
    # are counted (RFC 8259, section 2).
    module RecordEnds
      TOKEN = /"(?:[^"\\]|\\.)*"|[{}\[\]]/m
      LIST = /\A"log_?[Rr]ecords"\z/

      module_function

      # @param text [String] JSON, bytes
      # @return [Array<Integer>] offsets just behind each record
      def of(text)
        ends = []
        depth = 0
        list = nil
        key = nil
        text.scan(TOKEN) do |token|
          case token
          when "{", "["
            depth += 1
            list = depth if token == "[" && list.nil? && LIST.match?(key.to_s)
          when "}", "]"
            depth -= 1
            ends << Regexp.last_match.end(0) if token == "}" && list == depth
            list = nil if list && depth < list
          else key = token
          end
        end
        ends
      end
    end
  end
end
