# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # The fields of a question's lines, with their values.
      class Fields < Resource
        get "/" do
          asked = question
          table = Store::FieldTable.new(asked, against: against(asked))
          survey(table) do
            {
              "fields" => table.rows.map { |field| Present.field(field) }, "total" => table.total,
              "set_against" => table.other_total
            }
          end
        end
      end
    end
  end
end
