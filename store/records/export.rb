# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # An export that goes on, or has ended: what is asked, how many lines of how many are written, and whether it was
    # cancelled.
    class Export < Record
      self.table_name = "exports"

      # Those that nobody has fetched for so long are forgotten.
      KEPT_US = 86_400_000_000

      scope :old, ->(now_us) { where(created_us: ...(now_us - KEPT_US)) }

      # @return [Hash{String=>Object}] see {Question#spec}
      def question = told.except("sheet")

      # @return [Hash{String=>Object}] "limit" and "zone"
      def sheet = told.fetch("sheet", {})

      private

      def told = Oj.load(spec, mode: :strict)
    end
  end
end
