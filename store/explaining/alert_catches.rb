# frozen_string_literal: true

module Northdrift
  module Store
    # What a rule would have told of before a person saw it: closed cases whose trouble it would have raised, and
    # restarts of machines that its alerts were about.
    class AlertCatches
      # An alert belongs to a case from so long before its onset on, until so long after it.
      BEFORE_US = 3_600_000_000
      AFTER_US = 6 * BEFORE_US
      # And to a restart that comes so soon after it.
      RESTART_US = BEFORE_US
      MOST_RESTARTS = 500

      # @!attribute kind [String] case or restart
      # @!attribute id [Integer, nil] of the case
      # @!attribute says [String]
      # @!attribute at_us [Integer] when a person opened the case; when the machine was back
      # @!attribute before_us [Integer] so long before that it would have been raised; less than nought is later
      Catch = Struct.new(:kind, :id, :says, :at_us, :before_us)

      # @param trial [AlertTrial]
      def initialize(trial)
        @trial = trial
      end

      # @return [Array<Catch>] in order of time
      def all
        return [] if @trial.found.empty?

        (cases + restarts).sort_by(&:at_us)
      end

      private

      def cases
        closed = Case.present.where(status: "closed", onset_us: (@trial.from_us - BEFORE_US)..@trial.to_us)
        closed.filter_map do |one|
          machines = one.pins.filter_map { |pin| pin.told["machine"] }
          first = raised(one.onset_us - BEFORE_US, one.onset_us + AFTER_US) { |machine| machines.include?(machine) }
          Catch.new("case", one.id, one.title, one.created_us, one.created_us - first) if first
        end
      end

      def restarts
        started = Restarts.new(from_us: @trial.from_us, to_us: @trial.to_us).verdicts(most: MOST_RESTARTS)
          .reject(&:service)
        started.filter_map do |one|
          at_us = one.start.time_us
          first = raised(at_us - RESTART_US, at_us) { |machine| machine == one.machine }
          Catch.new("restart", nil, "#{one.machine}: #{one.says}", at_us, at_us - first) if first
        end
      end

      # @return [Integer, nil] when the first alert of one of those machines was raised
      def raised(from_us, to_us)
        @trial.found.map { |one| [one.span.raised_us, @trial.rule.machine(one.key)] }
          .select { |at_us, machine| at_us.between?(from_us, to_us) && machine && yield(machine) }.map(&:first).min
      end
    end
  end
end
