# frozen_string_literal: true

require "yaml"

module Northdrift
  module Watch
    # The rules that ship, which are data: a file for each family. None is on until somebody switches it on.
    module Catalogue
      # @!attribute title [String] for people
      # @!attribute rules [Array<Hash>] definitions, see {Rule}
      Family = Struct.new(:title, :rules)
      FILES = Dir[File.join(__dir__, "rules/*.yml")].freeze
      # For tests: lines that raise it.
      SAMPLE = "sample"

      module_function

      # @return [Array<Family>]
      def families
        @families ||= FILES.map do |path|
          family = YAML.safe_load_file(path)
          Family.new(family.fetch("title"), family.fetch("rules").map { |rule| rule.except(SAMPLE) })
        end.freeze
      end

      # @return [Hash{String=>Array<String>}] lines by id of the rule that they raise; {second} stands for a moment
      def samples
        all = FILES.flat_map { |path| YAML.safe_load_file(path)["rules"] }
        all.to_h { |rule| rule.values_at("id", SAMPLE) }.compact
      end
    end
  end
end
