# frozen_string_literal: true

require "base64"
require "time"

module Northdrift
  module Archive
    # An event as a line of an archive has it: a JSON object with everything that is known of it, so that it can be put
    # back as it was, and so that any program can read it.
    module Line
      PLAIN = %w[severity machine service fields constants body_at ending stamped inferred note].freeze

      module_function

      # @param event [Event] texts may be UTF-8
      # @param source [String] name of its source
      # @return [Hash{String=>Object}] for JSON
      def of(event, source)
        values = {
          "time" => Time.at(0, event.time_us, :microsecond, in: "UTC").strftime("%Y-%m-%dT%H:%M:%S.%6NZ"),
          "source" => source, "line" => event.line_number, "offset" => event.offset, "reader" => event.reader.to_s,
          **bytes("message", event.message), **bytes("raw", event.raw)
        }
        PLAIN.each { |name| values[name] = event[name] }
        values.merge("inferred" => event.inferred.map(&:to_s))
      end

      # @param values [Hash{String=>Object}] as {.of} gives them
      # @return [Array(Event, String)] the event, and the name of its source
      # @raise [KeyError, ArgumentError] when it is no line of an archive
      def read(values)
        event = Event.new
        PLAIN.each { |name| event[name] = values.fetch(name) }
        event.time_us = (Time.iso8601(values.fetch("time")).to_r * 1_000_000).to_i
        %w[raw message].each do |name|
          event[name] = if values.key?("#{name}_base64")
            Base64.strict_decode64(values["#{name}_base64"])
          else
            values.fetch(name).b
          end
        end
        event.reader = values.fetch("reader").to_sym
        event.inferred = event.inferred.map(&:to_sym)
        event.line_number = Integer(values.fetch("line"))
        event.offset = Integer(values.fetch("offset"))
        [event, values.fetch("source")]
      end

      # Bytes that are no UTF-8 cannot stand in JSON (RFC 8259, section 8.1).
      def bytes(name, bytes)
        text = bytes.dup.force_encoding(Encoding::UTF_8)
        text.valid_encoding? ? { name => text } : { "#{name}_base64" => Base64.strict_encode64(bytes) }
      end
      private_class_method :bytes
    end
  end
end
