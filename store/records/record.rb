# frozen_string_literal: true

require "active_record"

module Northdrift
  module Store
    # Ancestor of the models.
    class Record < ActiveRecord::Base
      self.abstract_class = true

      after_create { note_change { [nil, attributes] } }
      after_update { note_change { %i[first last].map { |side| saved_changes.transform_values(&side) } } }
      after_destroy { note_change { [attributes, nil] } }

      private

      # For the audit trail, where it is of what people set.
      def note_change
        table = self.class.table_name
        Changes.note(table, id, *yield) if Changes::TABLES.include?(table)
      end
    end
  end
end
