# frozen_string_literal: true

module Northdrift
  module Server
    module Export
      # The records as they came in.
      class Raw
        def initialize(sheet) = @out = sheet.out

        # @param event [Store::StoredEvent]
        def <<(event)
          @out << event.raw << "\n"
        end

        def finish = nil
      end
    end
  end
end
