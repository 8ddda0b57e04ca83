# frozen_string_literal: true

module Northdrift
  module Rules
    # A rule that turns down lines that bring nothing: they are dropped, or one in so many is kept.
    class Noise
      ACTIONS = %w[drop thin hide].freeze

      # @return [Integer]
      attr_reader :id

      # @param id [Integer]
      # @param find [String] which events it takes
      # @param action [String] drop or thin; what is only hidden from view is kept
      # @param keep [Integer] thinned: one in so many
      # @param patterns [Hash{String=>String}] texts of the patterns that the condition names
      # @param expires_us [Integer, nil]
      # @raise [Find::Mistake]
      def initialize(id:, find:, action:, keep: 10, patterns: {}, expires_us: nil)
        @id = id
        @matcher = Find::Matcher.new(Find::Parser.parse(find))
        @keep = action == "thin" ? keep : nil
        @places = patterns.transform_values { |text| Patterns::Places.new(text) }
        @expires_us = expires_us
        @seen = 0
      end

      # @param event [Event]
      # @param subject [Find::Matcher::Subject] without pattern
      # @param now_us [Integer]
      # @return [Boolean] whether it is turned away
      def takes?(event, subject, now_us)
        return false if @expires_us && now_us >= @expires_us
        return false unless @matcher.match?(@places.empty? ? subject : with_pattern(event, subject))

        @seen += 1
        @keep.nil? || (@seen % @keep) != 1
      end

      private

      # Patterns get their numbers when they are written; here they are told by their words.
      def with_pattern(event, subject)
        name = @places.find { |_, places| places.of(event.message) }&.first
        subject.dup.tap { |copy| copy.fields = -> { subject.fields.call.merge("pattern" => name) } }
      end
    end
  end
end
