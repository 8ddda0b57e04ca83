# frozen_string_literal: true

require "yaml"

module Northdrift
  module Starters
    # Searches for those who do not know the words: by topic, with blanks to fill in (starters.yml).
    module Catalogue
      # @!attribute topic [String]
      # @!attribute name [String]
      # @!attribute find [String] find text; {machine}, {user}, {service} and {word} are blanks
      # @!attribute formats [String] for which lines it works
      # @!attribute view [String] lines, patterns, fields, words or measure
      # @!attribute measure [String, nil]
      Starter = Struct.new(:topic, :name, :find, :formats, :view, :measure) do
        # @return [Array<String>] names of the blanks
        def blanks = find.scan(BLANK).flatten.uniq

        # @return [String] a find text for whatever the blanks may be filled with
        def probe = find.gsub(CONDITION) { "has #{Regexp.last_match(1)}" }.gsub(/"?#{BLANK}"?(?:\s+and\b)?/o, "").strip
      end

      BLANK = /\{(machine|user|service|word)\}/
      CONDITION = /([\w.]+) = #{BLANK}/

      FORMATS = "all formats"
      VIEW = "lines"

      ALL = YAML.safe_load_file(File.join(__dir__, "starters.yml")).flat_map do |topic, rows|
        rows.map do |row|
          Starter.new(
            topic, row["name"], row["find"], row.fetch("formats", FORMATS), row.fetch("view", VIEW), row["measure"]
          )
        end
      end.freeze

      # @return [Array<String>] in the order in which they are shown
      def self.topics = ALL.map(&:topic).uniq
    end
  end
end
