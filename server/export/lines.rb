# frozen_string_literal: true

module Northdrift
  module Server
    module Export
      # A line for people: time, severity, machine, service and message.
      class Lines
        # A message's further lines are set off: none of them can look like a line of another event.
        FURTHER = "\n    "

        def initialize(sheet) = @sheet = sheet

        # @param event [Store::StoredEvent]
        def <<(event)
          time = @sheet.zone.to_local(Time.at(0, event.time_us, :microsecond, in: "UTC"))
          @sheet.out << "#{time.strftime('%Y-%m-%d %H:%M:%S.%6N')} #{Severity.name(event.severity)} " \
                        "#{name(event.machine)} #{name(event.service)} #{message(event)}\n"
        end

        def finish = nil

        private

        def name(text) = text ? Text.line(text) : "-"

        def message(event) = Text.display(event.message).gsub("\n", FURTHER)
      end
    end
  end
end
