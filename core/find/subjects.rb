# frozen_string_literal: true

module Northdrift
  module Find
    # Events on their way in, as conditions look at them.
    module Subjects
      NOTHING = {}.freeze

      module_function

      # @param event [Event]
      # @param source [String] name of its source
      # @param said [Hash{String=>Hash}] by machine: fields of all its lines, which people said of it
      # @return [Matcher::Subject] without pattern: that is told when it is written
      def of(event, source, said = NOTHING)
        Matcher::Subject.new(
          event.severity, Text.utf8(event.body), event.machine, event.service, Text.utf8(event.message),
          -> { Text.utf8(event.raw) }, -> { named(event, said).merge("source" => source) }
        )
      end

      # What a line says itself stands before what is said of its machine.
      def named(event, said)
        values =
          said
            .fetch(event.machine, NOTHING)
            .merge(event.fields, event.constants)
            .transform_values { |value| value.is_a?(String) ? Text.utf8(value) : value }
        values.merge("host.name" => event.machine, "service.name" => event.service, "reader" => event.reader.to_s)
      end
      private_class_method :named
    end
  end
end
