# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # What people say of a machine.
    class Machine < Record
      self.table_name = "machines"
      self.primary_key = "name"

      # @return [Array<String>]
      def tag_names = Oj.load(tags, mode: :strict)
    end
  end
end
