# frozen_string_literal: true

module Northdrift
  module Server
    module Export
      # Figures as other tools gather them (OpenMetrics 1.0.0, "Text Format").
      module OpenMetrics
        TYPE = "application/openmetrics-text; version=1.0.0; charset=utf-8"
        # Type by what stands behind the name of a sample ("Overall Structure", "Counter", "Info").
        SUFFIXES = { "gauge" => "", "counter" => "_total", "info" => "_info" }.freeze

        # A metric family.
        # @!attribute name [String] with its unit at its end, where it has one
        # @!attribute type [String] key of {SUFFIXES}
        # @!attribute unit [String, nil]
        # @!attribute help [String]
        # @!attribute samples [Array<Array(Hash{String=>String}, Numeric)>] labels and value
        Family = Struct.new(:name, :type, :unit, :help, :samples, keyword_init: true)

        module_function

        # @param families [Array<Family>]
        # @return [String]
        def write(families)
          families.map { |family| "#{head(family)}#{samples(family)}" }.join.concat("# EOF\n")
        end

        # @param field [String]
        # @return [String] as a label may be called
        def label(field) = field.gsub(/[^A-Za-z0-9_]/, "_").sub(/\A(?=\d)/, "_").sub(/\A__+/, "_")

        def head(family)
          unit = family.unit && "# UNIT #{family.name} #{family.unit}\n"
          "# TYPE #{family.name} #{family.type}\n#{unit}# HELP #{family.name} #{quoted(family.help)}\n"
        end
        private_class_method :head

        def samples(family)
          family.samples.map do |labels, value|
            told = labels.map { |name, text| "#{name}=\"#{quoted(text)}\"" }.join(",")
            "#{family.name}#{SUFFIXES.fetch(family.type)}#{"{#{told}}" unless told.empty?} #{value}\n"
          end.join
        end
        private_class_method :samples

        # "Escaping"
        def quoted(text) = text.gsub(/[\\"\n]/) { |sign| sign == "\n" ? "\\n" : "\\#{sign}" }
        private_class_method :quoted
      end
    end
  end
end
