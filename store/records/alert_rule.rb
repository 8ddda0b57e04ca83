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

      # @return [Array, nil] another one whenever a rule is on that was not, or is another by now; nil where none is on
      def self.version
        number, *others = Database.rows(
          "SELECT count(*), sum(id), max(changed_us) FROM alert_rules WHERE enabled AND deleted_us IS NULL"
        ).first
        [number, *others] if number.positive?
      end

      # @return [Hash{String=>Object}, nil] "rules": definitions of those that are on, and their "version"; nil where
      #   none is
      def self.definition
        version = self.version or return
        known = @definition
        return known if known && known["version"] == version && @path == Database.path

        @path = Database.path
        @definition = { "version" => version, "rules" => on.map(&:given) }
      end

      # @return [Watch::Rule]
      # @raise [Rules::Mistake]
      def rule = Northdrift::Watch::Rule.new(given.merge("id" => id.to_s))

      # @return [Hash{String=>Object}]
      def given = Oj.load(definition, mode: :strict)

      # @param values [Hash{String=>Object}]
      # @raise [Rules::Mistake]
      def given=(values)
        if Northdrift::Watch::Rule.new(values).outside?
          raise Northdrift::Rules::Mistake.new("when", "what another system raises needs no rule")
        end

        self.definition = Oj.dump(values, mode: :strict)
      end
    end
  end
end
