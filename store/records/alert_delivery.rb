# frozen_string_literal: true

module Northdrift
  module Store
    # That somebody is told of an alert, once.
    class AlertDelivery < Record
      self.table_name = "alert_deliveries"

      STATES = ["waiting", "sent", "not needed", "given up"].freeze
      # Such are not tried any longer.
      GIVEN_UP_US = 2 * 86_400_000_000
      HOUR_US = 3_600_000_000

      belongs_to :route, class_name: "Northdrift::Store::AlertRoute", inverse_of: :deliveries
      belongs_to :alert, class_name: "Northdrift::Store::Alert", optional: true

      scope :waiting, -> { where(state: "waiting") }

      class << self
        # @param values [Hash{Symbol=>Object}]
        # @return [Boolean] false where it is known already
        def plan(values) = insert(values).length.positive?

        # @return [Integer] messages that went to somebody within the last hour
        def within_hour(route_id, recipient, now_us)
          where(route_id: route_id, recipient: recipient).where("sent_us > ?", now_us - HOUR_US)
            .distinct.count(:message)
        end

        # @return [Integer] that wait because something stands in the way
        def in_trouble = waiting.where.not(problem: nil).count
      end
    end
  end
end
