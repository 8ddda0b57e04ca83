# frozen_string_literal: true

module Northdrift
  module Rules
    # The rules of people that hold for events on their way in: parsers in their order, of which the first that matches
    # takes the fields, and then noise rules.
    class Set
      # @param definition [Hash] lists of arguments under "parsers" and "noise", see {Parser} and {Noise}; under
      #   "fleet", fields by machine that conditions may name
      def initialize(definition)
        @parsers = definition.fetch("parsers", []).map { |values| Parser.new(**values.transform_keys(&:to_sym)) }
        @said = definition.fetch("fleet", {})
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
        @parsers.find { |parser| parser.apply(event, -> { Find::Subjects.of(event, source, @said) }, clock) }
        return if @noise.empty?

        subject = Find::Subjects.of(event, source, @said)
        @noise.find { |rule| rule.takes?(event, subject, now_us) }&.id
      rescue StandardError => error
        event.stumbled("a parser or noise rule", error)
        nil
      end
    end
  end
end
