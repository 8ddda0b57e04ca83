# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Searches to start with; those that find something in the window say so.
      class Starters < Resource
        # Seconds that looking may take; what was not looked at by then is told as not known.
        PATIENCE = 2.0

        get "/" do
          asked = question
          ends = clock + PATIENCE
          json(
            "starters" =>
              Northdrift::Starters::Catalogue::ALL.map do |starter|
                present(starter, clock < ends ? any?(asked, starter) : nil)
              end
          )
        end

        private

        def any?(asked, starter)
          asked.narrowed(starter.probe).page(limit: 1).events.any?
        rescue Find::Mistake
          false # no line has such a field
        end

        def present(starter, any)
          {
            "topic" => starter.topic, "name" => starter.name, "find" => starter.find, "formats" => starter.formats,
            "view" => starter.view, "measure" => starter.measure, "blanks" => starter.blanks, "any" => any
          }
        end
      end
    end
  end
end
