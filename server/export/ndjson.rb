# frozen_string_literal: true

require "oj"

module Northdrift
  module Server
    module Export
      # A JSON object a line, with everything that is known of the event.
      class Ndjson
        def initialize(sheet) = @sheet = sheet

        # @param event [Store::StoredEvent]
        def <<(event)
          @sheet.out << (Oj.dump(Present.record(event, @sheet.source(event)), mode: :strict) << "\n")
        end

        def finish = nil
      end
    end
  end
end
