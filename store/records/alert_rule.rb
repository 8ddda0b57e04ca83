# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # A rule that is watched, see {Northdrift::Watch::Rule}.
    class AlertRule < Record
      include Authored

      self.table_name = "alert_rules"

      scope :present, -> { where(deleted_us: nil).order(:id) }
      scope :on, -> { present.where(enabled: true) }

      # @return [Boolean]
      def self.any_on?
        Database.value("SELECT 1 FROM alert_rules WHERE enabled AND deleted_us IS NULL LIMIT 1") == 1
      end

      # @return [Array] another one whenever a rule is on that was not, or is another by now
      def self.version = on.pluck(:id, :changed_us)

      # @return [Watch::Rule]
      # @raise [Rules::Mistake]
      def rule = Northdrift::Watch::Rule.new(given.merge("id" => id.to_s))

      # @return [Hash{String=>Object}]
      def given = Oj.load(definition, mode: :strict)

      # @param values [Hash{String=>Object}]
      # @raise [Rules::Mistake]
      def given=(values)
        Northdrift::Watch::Rule.new(values)
        self.definition = Oj.dump(values, mode: :strict)
      end
    end
  end
end
