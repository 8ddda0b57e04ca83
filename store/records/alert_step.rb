# frozen_string_literal: true

module Northdrift
  module Store
    # What became of an alert at a moment.
    class AlertStep < Record
      self.table_name = "alert_steps"

      belongs_to :alert, class_name: "Northdrift::Store::Alert"
    end
  end
end
