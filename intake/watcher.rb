# frozen_string_literal: true

module Northdrift
  module Intake
    # Watches what comes in by the alert rules that are on. What they raise is written in the transaction that takes the
    # lines out of the queue; whatever is killed at whatever moment, each line is looked at once.
    class Watcher
      POLL_SECONDS = 0.2
      # Entries of the queue that are looked at together.
      ENTRIES = 10
      AGAIN_SECONDS = 2
      # So often it is looked which alerts are over.
      SETTLE_US = 5_000_000
      # So far back it is looked for what was noticed: it begins in the past.
      NOTICED_US = 86_400_000_000
      NICENESS = 5
      # Conditions on what did not come.
      OF_ABSENCE = %w[fewer unfinished].freeze

      # @param stop [#call]
      # @param clock [#call] microseconds
      def initialize(stop: -> { false }, clock: -> { Store::Clock.now_us })
        @stop = stop
        @clock = clock
      end

      # Works until told to stop.
      def run
        Process.setpriority(Process::PRIO_PROCESS, 0, NICENESS)
        until @stop.call
          begin
            step || sleep(POLL_SECONDS)
          rescue StandardError => error
            warn "northdrift: watching failed: #{error.message.lines.first.to_s.strip}; it is tried again"
            @engine = nil # what it knows may not be what was written
            sleep AGAIN_SECONDS
          end
        end
      end

      # @return [Boolean] whether there was something to look at
      def step
        look_at_rules
        number, ids = Store::WatchQueue.oldest(ENTRIES)
        now_us = @clock.call
        firings = (number ? feed(ids) : []) + @engine.advance(now_us)
        settle(now_us)
        return false if number.nil? && firings.empty?

        Store::Database.step do
          note(firings, now_us)
          look_up_late(now_us)
          Store::WatchQueue.take_out(number) if number
        end
        true
      end

      private

      def settle(now_us)
        return if now_us < @settled_us.to_i + SETTLE_US

        @settled_us = now_us
        Store::Database.step do
          look_at_noticed(now_us)
          Store::Alert.settle(now_us)
        end
      end

      # That a machine fell silent, wrote more than usual, or why it restarted no line tells: it is looked up.
      def look_at_noticed(now_us)
        @engine.rules.select { |rule| Store::AlertTrial.looked_up?(rule) }.each do |rule|
          since_us = [now_us - NOTICED_US, Store::AlertRule.find(rule.id).changed_us].max
          Store::AlertTrial.new(rule, since_us, now_us).found
            .reject { |one| closed?(rule, one) }
            .each { |one| Store::Alert.note(rule, one.key, [one.span], now_us) }
        end
      end

      # What somebody has closed while it lasts does not come again by lasting.
      def closed?(rule, one)
        Store::Alert.near(rule, one.key, one.span)
          .any? { |alert| alert.state == "closed" && alert.closed_us > one.span.raised_us }
      end

      # @return [Array<Watch::Firing>]
      def feed(ids)
        events = Store::StoredEvent.all(ids)
        names = Store::Source.where(id: events.map(&:source_id).uniq).pluck(:id, :name).to_h
        events.flat_map { |event| @engine.feed(event.time_us, event.subject(names[event.source_id])) } +
          Store::Happenings.of_lines(ids).flat_map do |one|
            @engine.feed_entry(one.time_us, one.kind, one.all_fields)
          end
      end

      def look_at_rules
        version = Store::AlertRule.version
        return if @engine && version == @version

        @version = version
        @engine = Watch::Engine.new(rules)
        remember
      end

      # One that cannot be used says why, and the others go on.
      def rules
        Store::AlertRule.on.filter_map do |one|
          one.rule
        rescue Rules::Mistake => error
          one.update_columns(problem: error.message)
          nil
        end
      end

      # What was looked at before, as far back as it matters.
      def remember
        now_us = @clock.call
        waiting = Store::WatchQueue.waiting.to_set
        @engine.rules.each do |rule|
          reach = rule.reach_us + Watch::Engine::TOLERANCE_US
          Store::AlertTrial.new(rule, now_us - reach, now_us + reach, without: waiting).lines
            .each { |time_us, role, key, value| @engine.add(rule, role, key, time_us, value) }
        end
      end

      def note(firings, now_us)
        firings.group_by { |one| [one.rule, one.key] }.each do |(rule, key), some|
          spans = Watch::Span.of(some.map { |one| [one.from_us, one.at_us, one.critical] }, rule.quiet_us)
          Store::Alert.note(rule, key, spans, now_us)
        end
      end

      # Of lines that came later than is waited for, what they tell is looked up among those that are stored.
      def look_up_late(now_us)
        # That there were fewer, or none, is no news of a line that came.
        @engine.late.reject { |rule, _| OF_ABSENCE.include?(rule.kind) }.each do |rule, (first_us, last_us)|
          reach = rule.reach_us + 1
          Store::AlertTrial.new(rule, first_us - reach, last_us + reach).found
            .each { |one| Store::Alert.note(rule, one.key, [one.span], now_us) }
        end
        @engine.late.clear
      end
    end
  end
end
