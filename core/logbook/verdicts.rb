# frozen_string_literal: true

require "re2"
require "yaml"

module Northdrift
  module Logbook
    # Why machines started, from what the logbook has. The reasoning is data (verdicts.yml): happenings near a start speak for
    # reasons with a weight, or against them. Where the best reason has little weight, or another nearly as much, the answer is
    # that it is not known.
    class Verdicts
      RULES = YAML.safe_load_file(File.join(__dir__, "verdicts.yml")).freeze
      UNKNOWN = "unknown"
      # Several lines tell of one start.
      SAME_US = 300_000_000
      SECOND_US = 1_000_000
      LEAST = 4
      MARGIN = 2
      SURE = 5

      # @!attribute rule [String]
      # @!attribute speaks [Regexp, nil] on the words
      # @!attribute before [Integer] microseconds
      Clue = Struct.new(:reason, :rule, :speaks, :where, :before, :after, :weight)

      # @!attribute machine [String]
      # @!attribute start [#time_us] happening that tells the start
      # @!attribute reason [String] key of the reasons, or {UNKNOWN}
      # @!attribute says [String]
      # @!attribute confidence [String] sure, likely, or none
      # @!attribute evidence [Array] happenings that speak for it
      # @!attribute against [Array] happenings that speak against other reasons that were thought of
      # @!attribute look [Array<String>] what would settle it
      # @!attribute began_us [Integer] the first that was told of the start
      Verdict = Struct.new(:machine, :start, :began_us, :reason, :says, :confidence, :evidence, :against, :look)

      def self.clues(list)
        list.map do |values|
          speaks = values["says"] && RE2::Regexp.new(values["says"])
          Clue.new(values["reason"], values["rule"], speaks, values["where"], values.fetch("before", 0) * SECOND_US, values.fetch("after", 0) * SECOND_US, values.fetch("weight", 0))
        end.freeze
      end
      private_class_method :clues

      FOR = clues(RULES.fetch("evidence"))
      AGAINST = clues(RULES.fetch("against"))

      # @return [Array<String>] ids of the rules whose happenings it needs
      def self.rules = (FOR + AGAINST).map(&:rule).union(RULES.fetch("starts"))

      # @param happenings [Array<#time_us, #rule, #machine, #fields, #says>]
      def initialize(happenings)
        @happenings = happenings.sort_by(&:time_us)
        @by_rule = @happenings.group_by(&:rule)
      end

      # @return [Array<Verdict>] in order of time
      def all = starts.map { |start| verdict(start) }

      private

      def starts
        told = RULES.fetch("starts").flat_map { |rule| @by_rule.fetch(rule, []) }.select(&:machine).sort_by(&:time_us)
        told.group_by(&:machine).values.flat_map { |own| own.slice_when { |one, other| other.time_us - one.time_us > SAME_US }.map(&:first) }.sort_by(&:time_us)
      end

      def verdict(start)
        found = FOR.flat_map { |clue| near(clue, start).map { |happening| [clue, happening] } }
        # A line speaks for the reason that says most of it.
        found = found.group_by { |_, happening| happening }.map { |_, pairs| pairs.max_by { |clue, _| clue.weight } }
        against = AGAINST.flat_map { |clue| near(clue, start).map { |happening| [clue, happening] } }
        weights = found.group_by { |clue, _| clue.reason }.transform_values { |pairs| pairs.map(&:first).uniq.sum(&:weight) }
        against.map(&:first).each { |clue| weights.delete(clue.reason) }
        decide(start, weights, found, against)
      end

      def decide(start, weights, found, against)
        (best, weight), (_, second) = weights.sort_by { |_, sum| -sum }
        known = weight && weight >= LEAST && weight - second.to_i >= MARGIN
        began_us = [start, *found.select { |clue, _| clue.after.positive? && clue.where == "here" }.map(&:last)].map(&:time_us).min
        evidence = found.select { |clue, _| !known || clue.reason == best }.map(&:last).uniq
        confidence = known ? (weight > SURE ? "sure" : "likely") : "none"
        Verdict.new(start.machine, start, began_us, known ? best : UNKNOWN, known ? RULES.dig("reasons", best) : "it cannot be said from these lines", confidence,
                    evidence, against.map(&:last).uniq - evidence, known ? [] : RULES.fetch("look"))
      end

      def near(clue, start)
        @by_rule.fetch(clue.rule, []).select do |happening|
          away = happening.time_us - start.time_us
          away.between?(-clue.before, clue.after) && about?(clue, happening, start.machine) && (clue.speaks.nil? || clue.speaks.match?(happening.says))
        end
      end

      def about?(clue, happening, machine)
        return happening.machine == machine if clue.where == "here"

        happening.fields.any? { |_, value| value.split(/[\s,]+/).include?(machine) }
      end
    end
  end
end
