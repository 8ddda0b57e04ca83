# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What a person may be about to type: field names, values of a field, machines, services, frequent words.
      class Completions < Resource
        get "/" do
          prefix = text("prefix")
          field = params["field"]
          found = field ? Store::Completions.values(checked("field", field), prefix) : Store::Completions.words(prefix)
          json("completions" => found)
        end
      end
    end
  end
end
