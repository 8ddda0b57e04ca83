# frozen_string_literal: true

module Northdrift
  module Store
    # Which rule chose the severity of a record. It is not stored: who takes the severity from the record once more is
    # told, and a rule that would choose another one is not the one that did.
    class SeverityRule
      # @param event [StoredEvent]
      # @param source [Source]
      # @return [String, nil] nil when nothing that there is now chooses the record's severity
      def self.of(event, source) = new(event, source).find

      # @param event [StoredEvent]
      # @param source [Source]
      def initialize(event, source)
        @event = event
        @source = source
        @clock = Reading::Clock.new(zone: source.zone, reference_us: source.reference_us)
      end

      # @return [String, nil]
      def find = parser || of_text(@event.raw) || of_text(heading + @event.raw)

      private

      def parser
        rule = ParserRule.present.find_by(name: @event.kind.constants[Rules::Parser::FIELD]) or return
        event = @event.event
        # What the rule looked at was the event before it: its condition may not hold any more.
        Rules::Parser.new(**rule.definition.merge("find" => "").transform_keys(&:to_sym)).apply(event, nil, @clock)
        "parser “#{rule.name}”" if event.severity_rule && event.severity == @event.severity
      end

      def of_text(text)
        read = nil
        records = Reading::Records.new(Reading::Context.new(clock: @clock)) { |event| read = event }
        records.push(text)
        records.finish
        read.severity_rule if read && read.reader == @event.kind.reader && read.severity == @event.severity
      end

      # What names the columns of its source, when something does.
      def heading
        SourceText
          .new(@source)
          .around(1, before: 0, after: Reading::Header::SEARCHED)
          .take_while { |event| event.line < @event.line }
          .map { |event| "#{event.raw}\n" }
          .join
      end
    end
  end
end
