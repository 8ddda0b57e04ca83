# frozen_string_literal: true

module Northdrift
  module Cases
    # What is written of a case, whatever it is written as: its facts, its pins in the order in which they truly
    # happened, and the evidence with its hashes.
    class Report
      # @!attribute at_us [Integer] microseconds UTC, by the clock that is right
      # @!attribute told_us [Integer] as its own machine has it
      # @!attribute kind [String] line, pattern, chart, happening or note
      # @!attribute machine [String, nil]
      # @!attribute severity [Integer, nil]
      # @!attribute text [String]
      # @!attribute note [String] of the person who pinned it
      # @!attribute raw [String, nil] exact bytes of the line
      # @!attribute sha256 [String, nil] of these
      # @!attribute source [String, nil] where the line stands
      # @!attribute chart [Chart, nil]
      Pin =
        Struct.new(
          :at_us, :told_us, :kind, :machine, :severity, :text, :note, :raw, :sha256, :source, :chart, keyword_init: true
        )

      # Lines over time.
      # @!attribute counts [Array<Array<Integer>>] counts of the nine severities by step
      Chart = Struct.new(:start_us, :step_us, :counts)

      # A heading and what stands under it.
      Fact = Struct.new(:title, :text)

      STATUS = { "open" => "open", "closed" => "closed" }.freeze
      KINDS = %w[line pattern chart happening note].freeze

      # @return [String]
      attr_reader :title
      # @return [Array<Fact>]
      attr_reader :facts
      # @return [Array<Pin>] in the order in which they truly happened
      attr_reader :timeline
      # @return [Integer] microseconds UTC at which it was written
      attr_reader :written_us
      # @return [String] where the case can be found
      attr_reader :number

      # @param number [Integer]
      # @param facts [Hash{Symbol=>Object}] title, status, onset_us, cause, remedy, effect, note
      # @param pins [Array<Pin>]
      def initialize(number:, facts:, pins:, written_us:)
        @number = "Case #{number}"
        @title = facts.fetch(:title)
        @facts = told(facts)
        @timeline = pins.sort_by.with_index { |pin, index| [pin.at_us, index] }
        @written_us = written_us
      end

      # @return [Array<Pin>] what has bytes to show for it
      def evidence = @timeline.select(&:raw)

      # @return [Array<Pin>]
      def charts = @timeline.select(&:chart)

      # @param us [Integer]
      # @return [String] 2026-11-22 06:12:08.417 UTC
      def self.time(us) = Time.at(0, us, :microsecond, in: "UTC").strftime("%Y-%m-%d %H:%M:%S.%L UTC")

      private

      def told(facts)
        [
          ["Status", STATUS.fetch(facts[:status])], ["Began", facts[:onset_us] && Report.time(facts[:onset_us])],
          ["Effect", facts[:effect]], ["Cause", facts[:cause]], ["Remedy", facts[:remedy]], ["Note", facts[:note]]
        ].reject { |_, text| text.to_s.strip.empty? }.map { |title, text| Fact.new(title, text) }
      end
    end
  end
end
