# frozen_string_literal: true

require "re2"

module Northdrift
  module Logbook
    # What speaks for a reason, or against it: a sort of happening near a start, or that there was none.
    class Clue
      SECOND_US = 1_000_000

      # @return [String] key of the reasons
      attr_reader :reason
      # @return [String, nil] id of the rule whose happenings it is about
      attr_reader :rule
      # @return [Integer]
      attr_reader :weight
      # @return [Array<String>, nil] rules none of whose happenings must be there
      attr_reader :absent
      # @return [Array<String>] rules of which one must be there for absence to say anything
      attr_reader :needs

      # @param values [Hash{String=>Object}] see verdicts.yml
      def initialize(values)
        @reason, @rule, @where, @field, @absent = values.values_at("reason", "rule", "where", "field", "absent")
        @needs = values.fetch("needs", [])
        @speaks = values["says"] && RE2::Regexp.new(values["says"])
        @is = values["is"] && RE2::Regexp.new(values["is"])
        @before = values.fetch("before", 0) * SECOND_US
        @after = values.fetch("after", 0) * SECOND_US
        @weight = values.fetch("weight", 0)
      end

      # @return [Array<String>] ids of all rules that it looks at
      def rules = [@rule, *@absent, *@needs].compact

      # @return [Boolean] whether it may tell of the start itself, on the machine itself
      def at_start? = @after.positive? && @where == "here"

      # @return [Boolean] whether a moment is near enough to a start
      def near?(time_us, start_us) = (time_us - start_us).between?(-@before, @after)

      # @return [Array(Integer, Integer)] microseconds between which it looks
      def window(start_us) = [start_us - @before, start_us + @after]

      # @param happening [#time_us, #machine, #fields, #says]
      # @param subject [Subject]
      # @return [Boolean]
      def speaks?(happening, subject)
        near?(happening.time_us, subject.start_us) && subject.about?(happening, @where) &&
          (@speaks.nil? || @speaks.match?(happening.says)) && (@field.nil? || @is.match?(happening.fields[@field].to_s))
      end
    end
  end
end
