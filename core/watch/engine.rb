# frozen_string_literal: true

module Northdrift
  module Watch
    # Watches many rules at once: is fed lines as they come, and the clock, and says when a rule holds. Lines may be
    # late by so much; what comes later is told ({#late}), to be looked up.
    #
    # Of most rules a line cannot be: see {Index}.
    class Engine
      TOLERANCE_US = 60 * 1_000_000
      # Keys that are known of a rule at a time; lines of further ones are not counted for it.
      MOST_KEYS = 10_000
      # So often what is over is forgotten.
      SWEEP_US = 5_000_000

      # @return [Array<Rule>]
      attr_reader :rules
      # @return [Hash{Rule=>Array(Integer, Integer)}] the first and the last time of lines of a rule that came too late;
      #   who has looked for what they tell empties it
      attr_reader :late
      # @return [Hash{Rule=>Integer}] lines that were not counted, since there were too many keys
      attr_reader :crowded

      # @param rules [Array<Rule>]
      # @param tolerance_us [Integer]
      def initialize(rules, tolerance_us: TOLERANCE_US, most_keys: MOST_KEYS)
        @rules = rules
        @tolerance_us = tolerance_us
        @most_keys = most_keys
        @known = rules.to_h { |rule| [rule, {}] }.compare_by_identity
        @crowded = Hash.new(0).compare_by_identity
        @late = {}.compare_by_identity
        @before_us = -Float::INFINITY
        index(rules)
      end

      # @param time_us [Integer] of a line
      # @param subject [Find::Matcher::Subject] the same line
      # @return [Array<Firing>]
      def feed(time_us, subject)
        subject = remembered(subject)
        @index.parts(text(subject), subject.severity).flat_map do |part|
          next [] unless part.matcher.match?(subject)

          fields = subject.fields.call
          key = part.rule.key(fields) or next []
          add(part.rule, part.role, key, time_us, part.rule.value(fields))
        end
      end

      # @param time_us [Integer] of an entry of the logbook
      # @param kind [String] see {Logbook::Rule::KINDS}
      # @param fields [Hash{String=>Object}]
      # @return [Array<Firing>]
      def feed_entry(time_us, kind, fields)
        @of_kind.fetch(kind, []).flat_map do |rule|
          key = rule.key(fields)
          key ? add(rule, :entries, key, time_us) : []
        end
      end

      # A line of which it is known already what it is.
      # @param rule [Rule] one of {#rules}
      # @param role [Symbol]
      # @param key [Array<String>]
      # @param value [Object, nil] see {Rule#value}
      # @return [Array<Firing>]
      def add(rule, role, key, time_us, value = nil)
        if time_us < @before_us
          @late[rule] = [*@late[rule], time_us].minmax
          return []
        end

        condition = condition(rule, key) or return []
        firings(rule, key, condition.add(time_us, role, value))
      end

      # @param now_us [Integer] the clock
      # @return [Array<Firing>] what only waiting could tell
      def advance(now_us)
        return [] if now_us - @tolerance_us < @before_us + SWEEP_US

        @before_us = now_us - @tolerance_us
        @known.flat_map do |rule, conditions|
          told = conditions.flat_map { |key, condition| firings(rule, key, condition.advance(@before_us)) }
          conditions.delete_if { |_, condition| condition.empty? }
          told
        end
      end

      private

      def index(rules)
        @index = Index.new(rules)
        of_entries = rules.select(&:kinds)
        @of_kind = of_entries.flat_map(&:kinds).uniq
          .to_h { |kind| [kind, of_entries.select { |rule| rule.kinds.include?(kind) }] }
      end

      # Many rules look at the same line: what has to be taken apart for that is taken apart once.
      def remembered(subject)
        raw = fields = nil
        subject.dup.tap do |copy|
          copy.raw = -> { raw ||= subject.raw.call }
          copy.fields = -> { fields ||= subject.fields.call }
        end
      end

      def text(subject)
        "#{subject.text}\n#{subject.message}\n#{subject.machine}\n#{subject.service}\n#{subject.raw.call}"
      end

      def condition(rule, key)
        conditions = @known.fetch(rule)
        conditions[key] ||= if conditions.size < @most_keys
          rule.condition
        else
          @crowded[rule] += 1
          nil
        end
      end

      def firings(rule, key, held)
        held.filter_map { |moment| Firing.new(rule, key, *moment) if rule.watched?(moment[1]) }
      end
    end
  end
end
