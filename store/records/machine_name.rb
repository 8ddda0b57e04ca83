# frozen_string_literal: true

module Northdrift
  module Store
    # What people call a machine that was named after where its lines came from.
    class MachineName < Record
      self.table_name = "machine_names"
      self.primary_key = "name"

      # @return [Hash{String=>String}]
      def self.all_called = pluck(:name, :called).to_h
    end
  end
end
