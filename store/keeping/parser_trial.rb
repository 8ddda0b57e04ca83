# frozen_string_literal: true

module Northdrift
  module Store
    # What a parser would give: on samples, and on the latest lines of a question.
    class ParserTrial
      LATEST = 1000
      SHOWN = 20
      # Above this a line, a parser is called slow.
      SLOW_US = 50.0

      # @!attribute message [String]
      # @!attribute values [Hash{String=>Object}, nil] nil when it does not match
      Line = Struct.new(:message, :values)

      # @return [Array<Line>] of the samples
      attr_reader :samples
      # @return [Array<Line>] the first of the latest lines, misses before hits
      attr_reader :lines
      # @return [Integer] latest lines that were looked at, and of these those that match
      attr_reader :looked_at, :matched
      # @return [Float] microseconds a line
      attr_reader :microseconds
      # @return [Hash{String=>String}] by group: what type its values have
      attr_reader :proposed
      # @return [Array<String>] groups whose field the reader fills already
      attr_reader :conflicts

      # @param parser [Rules::Parser]
      # @param samples [Array<String>]
      # @param question [Question] whose latest lines are looked at
      def initialize(parser, samples, question)
        @parser = parser
        @samples = samples.map { |message| Line.new(message, parser.read(message)) }
        look(question.page(last: true, limit: LATEST).events)
        @proposed = parser.types.keys.to_h { |group| [group, propose(group)] }
      end

      private

      def look(events)
        started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        all = events.map do |event|
          Line.new(event.message, @parser.taken(event)&.then { |texts| @parser.typed(texts) })
        end
        @microseconds =
          events.empty? ? 0.0 : (Process.clock_gettime(Process::CLOCK_MONOTONIC) - started) * 1e6 / events.size
        @looked_at = all.size
        @matched = all.count(&:values)
        @lines = all.reverse.partition { |line| line.values.nil? }.flat_map { |part| part.first(SHOWN / 2) }
        names = @parser.types.keys.to_h { |group| [group, Reading::FieldNames.common(group)] }
        @conflicts = names.select { |_, name| events.first(100).any? { |event| event.fields.key?(name) } }.keys
        @texts = all
      end

      def propose(group)
        values = [*@samples, *@texts].filter_map { |line| line.values && line.values[group] }.map(&:to_s)
        return "text" if values.empty?
        return "whole" if values.all?(/\A-?\d{1,18}\z/)

        values.all?(/\A-?\d+\.\d+\z|\A-?\d+\z/) ? "number" : "text"
      end
    end
  end
end
