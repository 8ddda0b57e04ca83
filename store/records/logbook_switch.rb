# frozen_string_literal: true

module Northdrift
  module Store
    # A rule of the logbook that ships and is switched off.
    class LogbookSwitch < Record
      self.table_name = "logbook_switches"
      self.primary_key = "rule"

      # @return [Hash{String=>Array}] what {Logbook::Catalogue.of} takes
      def self.definition
        { "off" => order(:rule).pluck(:rule), "own" => LogbookRule.present.where(enabled: true).map(&:definition) }
      end

      # @return [Logbook::Catalogue] the rules that hold at present
      def self.catalogue = Logbook::Catalogue.of(definition)
    end
  end
end
