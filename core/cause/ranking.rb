# frozen_string_literal: true

require "yaml"

module Northdrift
  module Cause
    # Orders what happened before the onset of trouble by how likely it is to be the cause: by its kind, by how long
    # before it was, by how far it is from the machine in trouble along what that cannot do without, and by how often
    # such a thing came without harm.
    class Ranking
      WEIGHTS = YAML.safe_load_file(File.join(__dir__, "weights.yml")).freeze
      KINDS = WEIGHTS.fetch("kinds").freeze
      RECOVERY = Regexp.new(WEIGHTS.fetch("recoveries"))
      SECOND_US = 1_000_000.0

      # How often such a thing was there before, and how often trouble followed.
      Past = Struct.new(:times, :harmful) do
        # @return [Float] 1 for what was never there; less, the more often it did no harm (rule of succession)
        def weight = 2.0 * (harmful + 1) / (times + 2)
      end
      NEVER = Past.new(0, 0).freeze

      # @!attribute happening [#time_us, #kind, #machine]
      # @!attribute score [Float]
      # @!attribute before_us [Integer] how long before the onset; less than nothing within what clocks differ by
      # @!attribute steps [Integer, nil] from the machine in trouble; nil when it cannot be reached
      # @!attribute where [String] here, below, beside or elsewhere
      # @!attribute past [Past]
      Candidate = Struct.new(:happening, :score, :before_us, :steps, :where, :past)

      # @param machine [String, nil] in trouble
      # @param onset_us [Integer]
      # @param dependencies [Fleet::Dependencies]
      # @param named [Array<String>] machines that it names in what it complains of
      # @param slack_us [Integer] clocks may be so far apart that a cause seems to come so long behind the onset
      def initialize(machine:, onset_us:, dependencies:, named: [], slack_us: 0)
        @onset_us = onset_us
        @latest_us = onset_us + slack_us
        @way = named.flat_map { |name| dependencies.reach(name).keys }.uniq
        @reach = machine ? dependencies.reach(machine) : {}
        @beside = machine ? dependencies.neighbours(machine) : []
      end

      # @param happenings [Array<#time_us, #kind, #machine, #says>]
      # @yieldparam happening [Object]
      # @yieldreturn [Past] of such happenings
      # @return [Array<Candidate>] the likeliest first
      def order(happenings)
        candidates = happenings.select { |one| candidate?(one) }.map do |one|
          past = block_given? ? yield(one) : NEVER
          steps = @reach[one.machine]
          where = if steps
            steps.zero? ? "here" : "below"
          else
            @beside.include?(one.machine) ? "beside" : "elsewhere"
          end
          before_us = @onset_us - one.time_us
          Candidate.new(
            one,
            KINDS.fetch(one.kind) * nearness(steps, where) * way(one.machine, where) * recency(before_us) * past.weight,
            before_us, steps, where, past
          )
        end
        candidates.sort_by { |one| [-one.score, -one.happening.time_us] }
      end

      private

      def candidate?(happening)
        KINDS.key?(happening.kind) && happening.time_us <= @latest_us && !RECOVERY.match?(happening.says)
      end

      def nearness(steps, where)
        return WEIGHTS.fetch(where) if steps.nil?

        WEIGHTS.fetch("steps")[[steps, WEIGHTS.fetch("steps").size - 1].min]
      end

      def way(machine, where)
        return 1.0 if @way.empty? || @way.include?(machine)

        WEIGHTS.fetch("named_others").fetch(where == "here" ? "here" : "other_way")
      end

      def recency(before_us) = 0.5**([before_us, 0].max / SECOND_US / WEIGHTS.fetch("half_life"))
    end
  end
end
