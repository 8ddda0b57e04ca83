# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What a measure comes to over a question's lines.
      class Measurements < Resource
        get "/" do
          asked = question
          clause =
            Measure::Clause.parse(
              params["measure"].to_s.empty? ? "count" : text("measure"), known: -> { Store::Kinds.current.field_names }
            )
          measurement =
            Store::Measurement.new(asked, clause: clause, utc_offset: integer("utc_offset", -86_400..86_400, 0))
          survey(measurement) { Present.measurement(measurement) }
        end
      end
    end
  end
end
