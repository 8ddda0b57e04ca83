# frozen_string_literal: true

module Northdrift
  module Standins
    # The tide gauges at the three terminals: they write in a form of their own, without a stamp, that no reader knows.
    # A simulated stand-in.
    module Gauge
      PATH = "weather-1/gauge.log"
      TERMINALS = %w[tar brn auk].freeze
      EVERY_SECONDS = 3
      # Semidiurnal lunar tide, M2 (a fact of the trade; value from memory).
      TIDE_SECONDS = 44_714.0

      module_function

      # @param from [Time]
      # @param to [Time]
      # @return [Array<Array(Time, String, String)>] time, path and line, as a world's `timed` has them
      def lines(from, to)
        (from.to_i...to.to_i).step(EVERY_SECONDS).map { |second| [Time.at(second), PATH, line(second)] }
      end

      def line(second)
        terminal = TERMINALS[(second / EVERY_SECONDS) % TERMINALS.size]
        phase = 2 * Math::PI * second / TIDE_SECONDS
        state = Math.cos(phase).positive? ? "rising" : "falling"
        return "gauge #{terminal} battery low at 11.#{second % 10}V, next reading in 30s" if (second % 97).zero?

        format(
          "gauge %s level %.2fm %s, swell %dcm, pump ran %dms", terminal, 1.9 + (1.4 * Math.sin(phase)), state,
          12 + (second % 31), 240 + ((second * 7) % 900)
        )
      end
      private_class_method :line
    end
  end
end
