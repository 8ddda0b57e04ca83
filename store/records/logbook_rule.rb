# frozen_string_literal: true

module Northdrift
  module Store
    # A rule of the logbook that a person made, as it is kept; see {Logbook::Rule}.
    class LogbookRule < Record
      include Authored

      self.table_name = "logbook_rules"

      scope :present, -> { where(deleted_us: nil).order(:id) }

      # @return [String] what happenings that it reads go by
      def rule_id = "own.#{id}"

      # @return [Hash{String=>String}] values of {Logbook::Rule#initialize}
      def definition
        { "id" => rule_id, "kind" => kind, "find" => find, "take" => take, "says" => says, "severity" => severity.to_s }
      end
    end
  end
end
