# frozen_string_literal: true

module Northdrift
  module Clocks
    # How far clocks are apart, told by exchanges that two machines saw: who asked saw the longer part of it, so that
    # the other's lines must lie between. Each exchange bounds the offset as a request and its answer do (RFC 5905,
    # section 8); the offset is where most bounds agree (K. Marzullo: "Maintaining the time in a distributed system",
    # 1984, the algorithm that RFC 5905, section 11.2.1 builds on).
    class Offsets
      # Exchanges that a pair of clocks must have, and the share of them that must agree.
      LEAST = 3
      AGREE = 0.6
      # What more see is no exchange, but a value that all have.
      MOST_SIGHTINGS = 16
      # Bounds of a pair: more tell no more.
      MOST_BOUNDS = 5000
      # Clocks that are no further apart are taken to be the same: so much may be the way of the message, and who asked
      # may have been taken for who answered.
      SAME_US = 1_000_000

      # @!attribute offset_us [Integer] by which the clock is ahead of the others; behind when negative
      # @!attribute error_us [Integer] by which that may be wrong on either side
      # @!attribute exchanges [Integer] that agree
      Offset = Struct.new(:offset_us, :error_us, :exchanges)

      def initialize
        @bounds = Hash.new { |pairs, pair| pairs[pair] = [] }
      end

      # @param sightings [Hash{Object=>Array(Integer, Integer)}] first and last moment of one exchange, by clock
      def add(sightings)
        return if sightings.size > MOST_SIGHTINGS

        sightings.to_a.combination(2) do |(one, seen), (other, also)|
          one, seen, other, also = other, also, one, seen if also[1] - also[0] > seen[1] - seen[0]
          # What took no time bounds nothing.
          next if seen[0] == seen[1]

          bound(one, other, *[also[1] - seen[1], also[0] - seen[0]].minmax)
        end
      end

      # @param one [Object] a clock
      # @param other [Object] another
      # @param low [Integer] microseconds by which the other is ahead at least
      # @param high [Integer] and at most
      def bound(one, other, low, high)
        turned = (one <=> other) == 1
        bounds = @bounds[turned ? [other, one] : [one, other]]
        bounds << (turned ? [-high, -low] : [low, high]) if bounds.size < MOST_BOUNDS
      end

      # @return [Hash{Object=>Offset}] by clock; most clocks are taken to be right
      def all
        links = @bounds.filter_map { |pair, bounds| agreed(bounds)&.then { |found| [pair, found] } }.to_h
        parts(links).reduce({}) { |all, part| all.merge(part) }
      end

      private

      # @return [Offset, nil] where most of the bounds overlap
      def agreed(bounds)
        return if bounds.size < LEAST

        edges = bounds.flat_map { |low, high| [[low, 0], [high, 1]] }.sort
        depth = deepest = 0
        best = nil
        edges.each_with_index do |(at, ends), index|
          depth += ends.zero? ? 1 : -1
          next unless ends.zero? && depth > deepest

          deepest = depth
          best = [at, edges[index + 1][0]]
        end
        return if deepest < bounds.size * AGREE

        middle = best.sum / 2
        Offset.new(middle.abs < SAME_US ? 0 : middle, (best[1] - best[0]) / 2, deepest)
      end

      # Clocks that are linked, however indirectly, are set against each other, the surest links first.
      def parts(links)
        around = Hash.new { |all, clock| all[clock] = [] }
        links.sort_by { |_, found| [found.error_us, -found.exchanges] }.each do |(one, other), found|
          around[one] << [other, found.offset_us, found]
          around[other] << [one, -found.offset_us, found]
        end
        known = {}
        around.keys.filter_map { |clock| part(clock, around, known) unless known.key?(clock) }
      end

      def part(start, around, known)
        found = { start => Offset.new(0, 0, around[start].sum { |*, link| link.exchanges }) }
        waiting = [start]
        while (clock = waiting.shift)
          around[clock].each do |other, by_us, link|
            next if found.key?(other)

            found[other] = Offset.new(
              found[clock].offset_us + by_us, found[clock].error_us + link.error_us, link.exchanges
            )
            waiting << other
          end
        end
        known.merge!(found)
        middle = found.values.map(&:offset_us).sort[(found.size - 1) / 2]
        found.transform_values { |offset| Offset.new(offset.offset_us - middle, offset.error_us, offset.exchanges) }
      end
    end
  end
end
