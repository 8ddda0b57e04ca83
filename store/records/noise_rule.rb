# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # A noise rule as it is kept, see {Rules::Noise}.
    class NoiseRule < Record
      include Authored

      self.table_name = "noise_rules"

      scope :present, -> { where(deleted_us: nil).order(:id) }
      NAMED = /\bP\d+\b/

      # @return [Hash{String=>Object}] arguments of {Rules::Noise}
      def definition
        {
          "id" => id, "find" => find, "action" => action, "keep" => keep,
          "patterns" => Oj.load(patterns, mode: :strict), "expires_us" => expires_us
        }
      end

      # Notes the words of the patterns that its condition names.
      def note_patterns
        known = KnownPatterns.current
        names = find.scan(NAMED).uniq
        self.patterns = Oj.dump(names.to_h { |name| [name, known.text(KnownPatterns.id(name))] }.compact, mode: :strict)
      end

      # @param now_us [Integer]
      # @return [Boolean]
      def holds?(now_us) = enabled && (expires_us.nil? || expires_us > now_us)

      # @param now_us [Integer]
      # @return [Array<String>] conditions that leave out what is hidden from view
      def self.hiding(now_us)
        present.where(action: "hide").select { |rule| rule.holds?(now_us) }.map { |rule| "not (#{rule.find})" }
      end
    end
  end
end
