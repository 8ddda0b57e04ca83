# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # A question that was saved under a name. What is deleted can be had back.
    class Search < Record
      include Authored
      include Owned

      self.table_name = "searches"

      scope :kept, -> { where(deleted_us: nil) }

      # @return [Array<String>]
      def tag_names = Oj.load(tags, mode: :strict)
    end
  end
end
