# frozen_string_literal: true

module Northdrift
  module Boards
    # A way in which a card is drawn.
    # @!attribute title [String]
    # @!attribute time [Boolean, nil] whether what is measured is told by step of time: true, false, or as it is asked
    # @!attribute measures [Boolean] whether it is about what is measured at all
    Drawing = Struct.new(:title, :time, :measures, keyword_init: true)

    class Drawing
      ALL = {
        "line" => new(title: "line", time: true, measures: true),
        "area" => new(title: "area", time: true, measures: true),
        "bars" => new(title: "bars", measures: true),
        "stacked" => new(title: "stacked bars", time: true, measures: true),
        "share" => new(title: "share of the whole", time: false, measures: true),
        "number" => new(title: "one number", time: false, measures: true),
        "table" => new(title: "table", time: false, measures: true),
        "text" => new(title: "text", measures: false)
      }.freeze

      # @param clause [Measure::Clause]
      # @return [Measure::Clause] the same, told by step of time or not as this way wants it
      def fit(clause)
        return clause if time.nil?

        clause.dup.tap { |fitting| fitting.step_us = time ? clause.step_us || 0 : nil }
      end
    end
  end
end
