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

      # As {set}, for what people set: the audit trail tells it.
      def self.change(name, value)
        Changes.note(name, nil, { "value" => get(name) }, { "value" => value })
        set(name, value)
      end
    end
  end
end
