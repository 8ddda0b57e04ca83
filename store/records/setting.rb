# frozen_string_literal: true

module Northdrift
  module Store
    # A named value of the data folder.
    class Setting < Record
      self.table_name = "settings"
      self.primary_key = "name"

      # @return [String, nil]
      def self.get(name) = find_by(name: name)&.value

      def self.set(name, value) = upsert({ name: name, value: value })
    end
  end
end
