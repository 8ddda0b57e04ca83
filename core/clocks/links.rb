# frozen_string_literal: true

module Northdrift
  module Clocks
    # Both ends of a link say when it comes and goes, each naming the other: what both saw happened at one moment, so
    # that the differences of their times tell how far their clocks are apart. The words are common practice, with no
    # source.
    class Links
      # What finds such lines.
      FIND =
        "(link or neighbor or neighbour or adjacency or peer or carrier) and (up or down or lost or established or " \
        "full)"
      UP = /\b(?:up|established|full)\b/i
      DOWN = /\b(?:down|lost)\b/i
      NAMES = /[[:alnum:]_][[:alnum:]_.-]*[[:alnum:]_]/
      # One end may notice so much later than the other.
      NOTICED_US = 2_000_000
      # Further apart they may be lines of two occasions.
      APART_US = 3_600_000_000
      # Moments of each end that are set against those of the other: the cost goes by their product.
      MOST = 200
      # Another difference that so large a part of the moments agrees on leaves it open.
      RIVAL = 0.7

      # @param machines [Enumerable<String>]
      def initialize(machines)
        @machines = machines.to_set
        @seen = Hash.new { |all, key| all[key] = [] }
      end

      # @param machine [String] whose line it is
      # @param clock [Object] of that machine at that time
      # @param time_us [Integer]
      # @param message [String]
      def add(machine, clock, time_us, message)
        state = state(message) or return
        message.scan(NAMES).uniq.each do |other|
          next if other == machine || !@machines.include?(other)

          moments = @seen[[[machine, other], state]]
          moments << [clock, time_us] if moments.size < MOST
        end
      end

      # @return [Hash{Array(Object, Object)=>Array<Array(Integer, Integer)>}] by pair of clocks: the bounds in
      #   microseconds between which the second is ahead of the first, one for each moment that both tell of
      def bounds
        differences
          .filter_map do |pair, (by_us, fewest)|
            agreed(by_us, fewest)&.then { |found| [pair, found.map { |one| [one - NOTICED_US, one + NOTICED_US] }] }
          end
          .to_h
      end

      private

      # Which way it went: a line that says both, as "from up to down" does, goes by what it says last.
      def state(message)
        up, down = [UP, DOWN].map { |words| message.rindex(words) }
        return unless up || down

        (up || -1) > (down || -1) ? :up : :down
      end

      # @return [Hash] by pair of clocks: all differences of times, and how many moments the end that tells fewer has
      def differences
        found = Hash.new { |all, pair| all[pair] = [[], 0] }
        @seen.each do |((machine, other), state), here|
          next if machine > other || !@seen.key?([[other, machine], state])

          there = @seen[[[other, machine], state]]
          here.group_by(&:first).to_a.product(there.group_by(&:first).to_a).each do |(one, ours), (two, theirs)|
            entry = found[[one, two]]
            entry[0].concat(
              ours
                .product(theirs)
                .map { |(_, first), (_, second)| second - first }
                .select { |by_us| by_us.abs <= APART_US }
            )
            entry[1] += [ours.size, theirs.size].min
          end
        end
        found
      end

      # Among the differences of every line with every other, those of one moment stand close together.
      # @return [Array<Integer>, nil] them; nil when too few agree, or others agree as well
      def agreed(by_us, fewest)
        by_us = by_us.sort
        groups = groups(by_us)
        best = groups.max_by(&:size) or return
        return if best.size < Offsets::LEAST || best.size < fewest * Offsets::AGREE

        # A link that comes and goes at even intervals fits as well, or nearly, one interval later.
        rival = groups.any? { |one| one.size > best.size * RIVAL && (one.begin >= best.end || one.end <= best.begin) }
        by_us[best] unless rival
      end

      # @param by_us [Array<Integer>] ascending
      # @return [Array<Range>] places of those that stand close together, from each on
      def groups(by_us)
        stop = 0
        by_us.each_with_index.map do |low, place|
          stop += 1 while stop < by_us.size && by_us[stop] <= low + (2 * NOTICED_US)
          place...stop
        end
      end
    end
  end
end
