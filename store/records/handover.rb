# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # What one shift told the next, as it was when it was handed over.
    class Handover < Record
      include Authored

      self.table_name = "handovers"

      scope :latest, -> { order(to_us: :desc, id: :desc) }

      # @return [Integer] where the next one begins, as far as any was handed over; else so long before
      def self.next_from(to_us, usual_us) = where(to_us: ..to_us).maximum(:to_us) || (to_us - usual_us)

      # @return [Boolean]
      def acknowledged? = !acknowledged_us.nil?

      # @return [Array<Hash>] sections, see Server::Present::ShiftSummary
      def sections = Oj.load(summary, mode: :strict)
    end
  end
end
