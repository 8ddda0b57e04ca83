# frozen_string_literal: true

module Northdrift
  module Rules
    # The rules of people that hold for events on their way in: parsers in their order, of which the first that matches
    # takes the fields, and then noise rules.
    class Set
      # @param definition [Hash] lists of arguments under "parsers" and "noise", see {Parser} and {Noise}
      def initialize(definition)
        @parsers = definition.fetch("parsers", []).map { |values| Parser.new(**values.transform_keys(&:to_sym)) }
        @noise = definition.fetch("noise", []).map { |values| Noise.new(**values.transform_keys(&:to_sym)) }
      end

      # @return [Boolean]
      def empty? = @parsers.empty? && @noise.empty?

      # @param event [Event] may gain fields
      # @param source [String] name of its source
      # @param clock [Reading::Clock]
      # @param now_us [Integer]
      # @return [Integer, nil] the noise rule that turns it away
      def apply(event, source, clock, now_us)
        @parsers.find { |parser| parser.apply(event, -> { subject(event, source) }, clock) }
        return if @noise.empty?

        subject = subject(event, source)
        @noise.find { |rule| rule.takes?(event, subject, now_us) }&.id
      end

      private

      def subject(event, source)
        text = Text.utf8(event.body)
        Find::Matcher::Subject.new(event.severity, text, event.machine, event.service, Text.utf8(event.message), -> { Text.utf8(event.raw) },
                                   -> { named(event).merge("source" => source) })
      end

      def named(event)
        values = event.fields.merge(event.constants).transform_values { |value| value.is_a?(String) ? Text.utf8(value) : value }
        values.merge("host.name" => event.machine, "service.name" => event.service, "reader" => event.reader.to_s)
      end
    end
  end
end
