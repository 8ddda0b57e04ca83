# frozen_string_literal: true

module Northdrift
  module Server
    module Export
      # A line for people: time, severity, machine, service and message.
      class Lines
        def initialize(sheet) = @sheet = sheet

        # @param event [Store::StoredEvent]
        def <<(event)
          time = @sheet.zone.to_local(Time.at(0, event.time_us, :microsecond, in: "UTC"))
          @sheet.out << "#{time.strftime('%Y-%m-%d %H:%M:%S.%6N')} #{Severity.name(event.severity)} " \
                        "#{event.machine || '-'} #{event.service || '-'} #{Text.display(event.message)}\n"
        end

        def finish = nil
      end
    end
  end
end
