# frozen_string_literal: true

module Northdrift
  module Find
    # Events on their way in, as conditions look at them.
    module Subjects
      module_function

      # @param event [Event]
      # @param source [String] name of its source
      # @return [Matcher::Subject] without pattern: that is told when it is written
      def of(event, source)
        Matcher::Subject.new(event.severity, Text.utf8(event.body), event.machine, event.service, Text.utf8(event.message), -> { Text.utf8(event.raw) }, -> { named(event).merge("source" => source) })
      end

      def named(event)
        values = event.fields.merge(event.constants).transform_values { |value| value.is_a?(String) ? Text.utf8(value) : value }
        values.merge("host.name" => event.machine, "service.name" => event.service, "reader" => event.reader.to_s)
      end
      private_class_method :named
    end
  end
end
