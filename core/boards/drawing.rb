# frozen_string_literal: true

module Northdrift
  module Boards
    # A way in which a card is drawn.
    # @!attribute title [String]
    # @!attribute asks [Symbol, nil] what it shows of the lines; nil: nothing
    # @!attribute time [Boolean, nil] whether what is measured is told by step of time: true, false, or as it is asked
    Drawing = Struct.new(:title, :asks, :time, keyword_init: true)

    class Drawing
      ALL = {
        "line" => new(title: "line", asks: :measurement, time: true),
        "area" => new(title: "area", asks: :measurement, time: true),
        "bars" => new(title: "bars", asks: :measurement),
        "stacked" => new(title: "stacked bars", asks: :measurement, time: true),
        "share" => new(title: "share of the whole", asks: :measurement, time: false),
        # A number says since when it is so.
        "number" => new(title: "number with its trend", asks: :measurement, time: true),
        "table" => new(title: "table", asks: :measurement, time: false),
        "patterns" => new(title: "patterns", asks: :patterns),
        "words" => new(title: "words", asks: :words),
        "rail" => new(title: "time rail", asks: :histogram),
        "lanes" => new(title: "lanes", asks: :histogram),
        "logbook" => new(title: "logbook", asks: :logbook),
        "alerts" => new(title: "alerts", asks: :alerts),
        "availability" => new(title: "availability", asks: :availability),
        "map" => new(title: "map", asks: :map),
        "text" => new(title: "text")
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
