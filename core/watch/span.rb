# frozen_string_literal: true

module Northdrift
  module Watch
    # A stretch in which a rule held, with no pause in it as long as the one that ends it: what becomes one alert.
    # @!attribute from_us [Integer] the first line that it held for
    # @!attribute raised_us [Integer] the first moment at which it held
    # @!attribute last_us [Integer] the last
    # @!attribute critical [Boolean, nil] whether it was beyond a critical level
    Span = Struct.new(:from_us, :raised_us, :last_us, :critical) do
      # @param moments [Enumerable<Array(Integer, Integer)>] as {Count#add} gives them, in any order, some of them twice
      # @param quiet_us [Integer] a pause of so long ends one
      # @return [Array<Span>] in order
      def self.of(moments, quiet_us)
        moments.sort_by { |from, at| [at, from] }.each_with_object([]) do |(from, at, critical), spans|
          if spans.any? && at - spans.last.last_us < quiet_us
            spans.last.last_us = at
            spans.last.from_us = [spans.last.from_us, from].min
            spans.last.critical ||= critical
          else
            spans << new(from, at, at, critical)
          end
        end
      end
    end
  end
end
