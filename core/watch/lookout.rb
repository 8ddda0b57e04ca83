# frozen_string_literal: true

module Northdrift
  module Watch
    # Says of lines on their way in whether a rule is about them, or may be, so that the others need not be looked at
    # again once they are stored.
    class Lookout
      # @param definitions [Array<Hash>] of rules; those that cannot be used are told elsewhere
      def initialize(definitions)
        rules = definitions.filter_map do |definition|
          Rule.new(definition)
        rescue Rules::Mistake
          nil
        end
        @index = Index.new(rules)
        @kinds = rules.flat_map { |rule| rule.kinds.to_a }.to_set
      end

      # @param event [Event]
      # @param text [String, nil] what it holds, where values are written otherwise in it
      # @param source [String]
      # @param happening [Logbook::Happening, nil] what it tells the logbook
      # @return [Boolean]
      def wanted?(event, text, source, happening)
        return true if happening && @kinds.include?(happening.kind)

        parts = @index.parts(all_of(event, text), event.severity)
        parts.any? && may_be?(parts, event, text, source)
      rescue StandardError => error
        event.stumbled("an alert rule", error)
        true
      end

      private

      # What stands in the line is looked for once.
      def all_of(event, text)
        raw = event.raw
        more = text.nil? || (text.ascii_only? && raw.include?(text)) ? nil : "\n#{text}"
        "#{raw}#{more}\n#{event.machine}\n#{event.service}"
      end

      def may_be?(parts, event, text, source)
        subject = nil
        parts.any? do |part|
          next true if part.open
          next false unless part.fields.all? { |name| event.fields.key?(name) || event.constants.key?(name) }

          subject ||= subject(event, text, source)
          part.matcher.match?(subject)
        end
      end

      def subject(event, text, source)
        fields = nil
        Find::Subjects.of(event, source).tap do |subject|
          told = subject.fields
          subject.fields = -> { fields ||= told.call }
          subject.text = Text.utf8(text) if text
        end
      end
    end
  end
end
