# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Who is told of which alerts, how, and when.
    class AlertRoute < Record
      include Authored
      include SealedSettings

      self.table_name = "alert_routes"

      SECRET = "secret"

      scope :on, -> { present.where(enabled: true).order(:id) }

      has_many :deliveries, class_name: "Northdrift::Store::AlertDelivery", foreign_key: :route_id,
                            inverse_of: :route, dependent: :delete_all

      # @return [Sending::Route]
      # @raise [Rules::Mistake]
      def route = Northdrift::Sending::Route.new(wanted)

      # @return [Hash{String=>Object}] as it was given
      def wanted = Oj.load(definition, mode: :strict)

      # @param values [Hash{String=>Object}]
      # @raise [Rules::Mistake]
      def wanted=(values)
        Northdrift::Sending::Route.new(values)
        self.definition = Oj.dump(values, mode: :strict)
      end

      # @return [Array<String>] whom it tells: one message each; "" where it goes to one place
      def recipients = given.fetch("to", [""])

      # @return [String] tells whether anything changed that it runs by
      def state = [id, kind, settings, definition, enabled, deleted_us].join("\0")
    end
  end
end
